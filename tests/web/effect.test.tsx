// @vitest-environment jsdom
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import { Arithmetic } from "../../web/src/details/Arithmetic";
import { EffectList } from "../../web/src/actions/EffectList";
import { ReachGlyph } from "../../web/src/site-parts/ReachGlyph";
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
  title: "Stays within policy",
  short: "too wide",
  level: "critical" as const,
};

describe("the effect of a plan", () => {
  it("names the findings that end and those that are new", () => {
    render(<EffectList plan={{ ...plan, cleared: [rule], opened: [] }} />);
    expect(screen.getByText("Too wide (R-07) ends; no finding is new.")).toBeTruthy();
  });

  it("names a few people, counts many, and never adds them to ways in from outside", () => {
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
              shut: ["anonymous visitors"],
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
    expect(screen.getByText("Anonymous visitors can no longer view it")).toBeTruthy();
    expect(screen.getByText("4 people can no longer view it")).toBeTruthy();
    expect(screen.getByText("Bo Reyes can no longer edit it")).toBeTruthy();
  });

  it("says that visits are not reported, which is not the same as none", () => {
    render(<EffectList plan={{ ...plan, visitsAffected: null }} />);
    expect(screen.getByText(/reports no visits/)).toBeTruthy();
  });

  it("shows no visits and findings for a site that moves to the attic, and the broken rules for one that is restored", () => {
    const { rerender } = render(<EffectList plan={{ ...plan, visitsAffected: 87 }} of="move-to-attic" />);
    expect(screen.queryByText(/87 visits/)).toBeNull();
    expect(screen.queryByText(/No finding/)).toBeNull();
    rerender(<EffectList plan={{ ...plan, opened: [rule] }} of="restore" />);
    expect(screen.getByText("It is restored as it was. Too wide (R-07) will be broken again.")).toBeTruthy();
    rerender(
      <EffectList plan={{ ...plan, changes: [{ who: "Anonymous visitors", from: "view", to: null }] }} of="restore" />,
    );
    expect(screen.getByText("It is restored with no more access than policy allows now:")).toBeTruthy();
  });

  it("lists side effects", () => {
    render(<EffectList plan={{ ...plan, sideEffects: ["The web domain a.example stays with the site."] }} />);
    expect(screen.getByText("The web domain a.example stays with the site.")).toBeTruthy();
  });
});

const access = (inside: number, outside: number) => ({
  inside: { atLeast: inside, atMost: inside },
  outside: { atLeast: outside, atMost: outside },
  insideLabels: ["nobody", "named", "unit", "staff"][inside] ?? "",
  outsideLabels: ["no one", "named guests", "partners", "anonymous"][outside] ?? "",
  peopleAtLeast: 0,
  peopleAtMost: 0,
  guests: 0,
});

describe("the access path as a table", () => {
  it("shows the host's limits before the effective access, and the organisation's after it", () => {
    const layer = {
      kind: "classification" as const,
      signInLabels: "account",
      insideLabels: "staff",
      mayLimit: [],
      behind: access(3, 0),
    };
    render(
      <Arithmetic
        accessPath={{
          power: "view",
          set: access(3, 3),
          steps: [
            {
              ...layer,
              name: "Guarded",
              enforcer: "policy",
              outsideLabels: "no one",
              limits: ["outside"],
            },
            {
              ...layer,
              name: "Slipway",
              enforcer: "host",
              outsideLabels: "anonymous",
              limits: [],
            },
            {
              ...layer,
              name: "Unit unknown",
              enforcer: "policy",
              insideLabels: null,
              outsideLabels: null,
              limits: [],
            },
          ],
          effective: access(3, 3),
          allowed: access(3, 0),
          exceeds: "yes",
          exceedsInside: "no",
          exceedsOutside: "yes",
        }}
      />,
    );
    const rows = screen.getAllByRole("row").map((row) => row.textContent);
    expect(rows[2]).toContain("Slipway");
    expect(rows[3]).toContain("Effective");
    expect(rows[4]).toContain("no one, limits it");
    expect(rows[5]).toContain("unknown");
  });
});

describe("the access cells", () => {
  it("fill for access, turn red beyond policy, are dotted where nobody can tell, and stay empty for a site never published", () => {
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
    const { container, rerender } = render(<ReachGlyph draft={working} published={live} />);
    expect(container.querySelectorAll(".fill-madder")).toHaveLength(2);
    expect(container.querySelectorAll(".fill-moss")).toHaveLength(4);
    expect(container.querySelectorAll("[stroke-dasharray]")).toHaveLength(2);
    rerender(<ReachGlyph draft={working} published={null} />);
    expect(container.querySelectorAll(".fill-moss, .fill-madder")).toHaveLength(0);
  });
});
