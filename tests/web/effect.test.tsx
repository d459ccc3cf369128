// @vitest-environment jsdom
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import { Arithmetic } from "../../web/src/margin/Arithmetic";
import { EffectList } from "../../web/src/margin/EffectList";
import { ReachGlyph } from "../../web/src/ledger/ReachGlyph";
import { emptyPlan as plan } from "./fixtures";

afterEach(cleanup);

const person = (id: number, name: string) => ({
  id,
  name,
  mail: `${id}@merrowby.example`,
  isOutside: id > 8,
});
const rule = {
  id: "R-07",
  title: "No wider than the house allows",
  short: "too wide",
  level: "must" as const,
};

describe("what a plan would come to", () => {
  it("says which findings clear and which open", () => {
    render(<EffectList plan={{ ...plan, cleared: [rule], opened: [] }} />);
    expect(screen.getByText("Too wide (R-07) will clear; none opens.")).toBeTruthy();
  });

  it("names few people, counts many, and never sums them with doors", () => {
    const many = [1, 2, 3, 4].map((id) => person(id, `Person ${id}`));
    render(
      <EffectList
        plan={{
          ...plan,
          powers: [
            {
              power: "view",
              gain: [],
              lose: many,
              opened: [],
              shut: ["passers-by"],
            },
            {
              power: "edit",
              gain: [],
              lose: [person(9, "Bo Reyes")],
              opened: [],
              shut: [],
            },
          ],
        }}
      />,
    );
    expect(screen.getByText("Passers-by can no longer read")).toBeTruthy();
    expect(screen.getByText("Four people by name can no longer read")).toBeTruthy();
    expect(screen.getByText("Bo Reyes can no longer edit")).toBeTruthy();
  });

  it("says that visits were not measured, which is not none", () => {
    render(<EffectList plan={{ ...plan, visitsAffected: null }} />);
    expect(screen.getByText(/was not measured/)).toBeTruthy();
  });

  it("says of a site that goes neither visits nor findings twice, and of one that comes back what it will break", () => {
    const { rerender } = render(<EffectList plan={{ ...plan, visitsAffected: 87 }} way="away" />);
    expect(screen.queryByText(/87 visits/)).toBeNull();
    expect(screen.queryByText(/No finding/)).toBeNull();
    rerender(<EffectList plan={{ ...plan, opened: [rule] }} way="back" />);
    expect(screen.getByText("It comes back as it went. Too wide (R-07) will be broken again.")).toBeTruthy();
    rerender(<EffectList plan={{ ...plan, changes: [{ who: "Passers-by", from: "view", to: null }] }} way="back" />);
    expect(screen.getByText("It comes back no wider than is allowed now:")).toBeTruthy();
  });

  it("says what goes along", () => {
    render(<EffectList plan={{ ...plan, along: ["The web domain a.example goes with the site."] }} />);
    expect(screen.getByText("The web domain a.example goes with the site.")).toBeTruthy();
  });
});

const access = (inside: number, outside: number) => ({
  inside: { atLeast: inside, atMost: inside },
  outside: { atLeast: outside, atMost: outside },
  insideWords: ["nobody", "named", "unit", "staff"][inside] ?? "",
  outsideWords: ["no one", "named guests", "partners", "passers-by"][outside] ?? "",
  peopleAtLeast: 0,
  peopleAtMost: 0,
  guests: 0,
});

describe("the arithmetic", () => {
  it("shows what the host holds before what is so in fact, and the house's limits after it", () => {
    const layer = {
      kind: "class" as const,
      proofWords: "signed in",
      insideWords: "staff",
      mayBind: [],
      behind: access(3, 0),
    };
    render(
      <Arithmetic
        passage={{
          power: "view",
          asked: access(3, 3),
          steps: [
            {
              ...layer,
              name: "Guarded",
              enforcer: "house",
              outsideWords: "no one",
              binds: ["outside"],
            },
            {
              ...layer,
              name: "Slipway",
              enforcer: "host",
              outsideWords: "passers-by",
              binds: [],
            },
            {
              ...layer,
              name: "Unit unknown",
              enforcer: "house",
              insideWords: null,
              outsideWords: null,
              binds: [],
            },
          ],
          actual: access(3, 3),
          allowed: access(3, 0),
          beyond: "yes",
          beyondInside: "no",
          beyondOutside: "yes",
        }}
      />,
    );
    const rows = screen.getAllByRole("row").map((row) => row.textContent);
    expect(rows[2]).toContain("Slipway");
    expect(rows[3]).toContain("So in fact");
    expect(rows[4]).toContain("no one, binds");
    expect(rows[5]).toContain("unknown");
  });
});

describe("the glyph", () => {
  it("fills what is so, reddens what is beyond, dots what nobody can tell, and leaves a site never live empty", () => {
    const working = {
      inside: { atLeast: 1, atMost: 3 },
      outside: { atLeast: 0, atMost: 0 },
      allowedInside: 3,
      allowedOutside: 0,
      words: "",
    };
    const live = {
      inside: { atLeast: 3, atMost: 3 },
      outside: { atLeast: 3, atMost: 3 },
      allowedInside: 3,
      allowedOutside: 1,
      words: "",
    };
    const { container, rerender } = render(<ReachGlyph working={working} live={live} />);
    expect(container.querySelectorAll(".fill-madder")).toHaveLength(2);
    expect(container.querySelectorAll(".fill-moss")).toHaveLength(4);
    expect(container.querySelectorAll("[stroke-dasharray]")).toHaveLength(2);
    rerender(<ReachGlyph working={working} live={null} />);
    expect(container.querySelectorAll(".fill-moss, .fill-madder")).toHaveLength(0);
  });
});
