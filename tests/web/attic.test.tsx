// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { ApiError } from "../../web/src/api/client";
import { ForecastChart } from "../../web/src/attic/ForecastChart";
import { Loss } from "../../web/src/attic/Loss";
import { TimeBar } from "../../web/src/site-parts/TimeBar";
import { inBytes, onDate } from "../../web/src/ui/words";
import { ActionFault, Refused } from "../../web/src/actions/ActionFault";
import { emptyPlan, remark } from "./fixtures";

afterEach(cleanup);

const clock: Schema["Clock"] = {
  words: "Kept through 1 Jul 2026.",
  left: "12 days",
  daysLeft: 12,
  passed: 0.5,
  isDue: false,
  organisation: "2026-07-01",
  host: null,
  hostIsFirst: false,
  recoverableUntil: null,
};
const atticEntry: Schema["AtticEntry"] = {
  site: 1,
  title: "Silt survey",
  address: "slipway.example/silt",
  host: "Slipway",
  unit: null,
  state: "in-attic",
  by: null,
  atHost: true,
  isOurs: false,
  byOwner: false,
  reason: null,
  requestedAt: "2026-06-01T00:00:00Z",
  stoppableUntil: null,
  movedToAtticAt: "2026-06-01T00:00:00Z",
  bytes: null,
  clock,
  holds: [],
  notes: [],
  mayRestore: true,
  mayStop: false,
  mayHold: true,
  words: null,
};
const bell = { id: 1, name: "Nora Bell", mail: "n.bell@merrowby.example", isOutside: false };
const bar = (container: HTMLElement) => container.querySelectorAll("rect")[1];

describe("the bar of time left", () => {
  it("fills as time passes, stays full after the end, and has the same in words", () => {
    const { container, rerender } = render(<TimeBar atticEntry={atticEntry} />);
    expect(bar(container)?.getAttribute("width")).toBe("53");
    expect(screen.getByText("12 days")).toBeTruthy();
    rerender(
      <TimeBar
        atticEntry={{ ...atticEntry, clock: { ...clock, passed: 3, isDue: true, left: "over", daysLeft: 0 } }}
      />,
    );
    expect(bar(container)?.getAttribute("width")).toBe("106");
    expect(screen.getByText("over")).toBeTruthy();
  });

  it("shows that a site has a hold, and which change is under way", () => {
    const hold = { id: 1, reason: "Inquiry", by: bell, from: "2026-06-02T00:00:00Z", through: null };
    const { rerender } = render(<TimeBar atticEntry={{ ...atticEntry, holds: [hold] }} />);
    expect(screen.getByText("held, 12 days")).toBeTruthy();
    rerender(<TimeBar atticEntry={{ ...atticEntry, state: "moving-to-attic", clock: null }} />);
    expect(screen.getByText("being moved to the attic")).toBeTruthy();
  });
});

describe("sizes and dates", () => {
  it.each([
    [0, "0 bytes"],
    [999, "999 bytes"],
    [12_000_000, "12 MB"],
    [1_240_000_000, "1.2 GB"],
    [999_999_999, "1.0 GB"],
    [31_000_000_000, "31 GB"],
    [420_000_000, "420 MB"],
  ])("%d is %s", (bytes, words) => expect(inBytes(bytes)).toBe(words));

  it("a date is the same day in every time zone", () => {
    expect(onDate("2026-12-09", new Date(2026, 5, 1))).toBe("9 Dec");
    expect(onDate("2027-12-09", new Date(2026, 5, 1))).toBe("9 Dec 2027");
    expect(onDate("")).toBe("");
  });
});

describe("the forecast", () => {
  const days = [
    { day: "2026-11-25", sites: 0, bytes: 0, unmeasured: 0, bytesSoFar: 0 },
    { day: "2026-11-26", sites: 2, bytes: 5_000_000, unmeasured: 1, bytesSoFar: 5_000_000 },
  ];

  it("has a table with the same values as the chart", () => {
    const { container } = render(<ForecastChart days={days} />);
    expect(container.querySelectorAll("svg rect")).toHaveLength(1);
    fireEvent.click(screen.getByRole("button", { name: "As a table" }));
    const rows = screen.getAllByRole("row").map((row) => row.textContent);
    expect(rows).toHaveLength(2);
    expect(rows[1]).toContain("5.0 MB");
    expect(rows[1]).toContain("1 site");
  });
});

describe("what is removed with a site", () => {
  const loss: Schema["Loss"] = {
    pages: null,
    bytes: 3_400_000,
    domains: [],
    group: "Ship agents",
    hiddenOpened: 0,
    opened: [{ site: 2, name: "Seal survey", people: 1 }],
    visits: null,
    lookAlikes: ["Silt survey (old) (slipway.example/old)"],
    keptThrough: "2027-01-09",
    keptBecause: "policy keeps sites in the attic 60 days",
    hostKeepsThrough: "2026-12-25",
    isOurs: false,
    cost: null,
    mailAlias: null,
    shared: [{ what: "Tide times", sites: 2 }],
    records: null,
  };
  const plan: Schema["Plan"] = { ...emptyPlan, confirmation: "type-the-name", stopMinutes: 60, loss };

  it("marks unknown facts, names similar sites and the group's other sites, and shows both dates", () => {
    render(<Loss plan={plan} host="Slipway" />);
    expect(screen.getByText(/Pages: not known; 3.4 MB/)).toBeTruthy();
    expect(screen.getByText(/Visits are not reported/)).toBeTruthy();
    expect(screen.getByText(/Another site has almost the same name: Silt survey \(old\)/)).toBeTruthy();
    expect(screen.getByText(/opens 1 other site: Seal survey \(1 person loses it\)/)).toBeTruthy();
    expect(
      screen.getByText(/until the end of 25 Dec.*when Slipway empties its bin.*until the end of 9 Jan 2027/),
    ).toBeTruthy();
    expect(screen.getByText(/disappears from 2 other sites too/)).toBeTruthy();
    expect(screen.queryByText(/costing/)).toBeNull();
  });

  it("says that the site is only shut on a host that deletes irrevocably, and what it still costs", () => {
    const ours = {
      ...loss,
      hostKeepsThrough: null,
      isOurs: true,
      cost: "Beacon: 96.00 EUR a year; it renews after 2 Mar 2027",
      mailAlias: "fund@merrowby.example",
      records: 41,
    };
    render(<Loss plan={{ ...plan, loss: ours }} host="Lantern" />);
    expect(screen.getByRole("heading", { name: "What is shut" })).toBeTruthy();
    expect(screen.getByText(/Lantern has no bin\. The site is only shut there/)).toBeTruthy();
    expect(
      screen.getByText("It still costs money. Beacon: 96.00 EUR a year; it renews after 2 Mar 2027."),
    ).toBeTruthy();
    expect(screen.getByText("Mail to fund@merrowby.example is no longer delivered")).toBeTruthy();
    expect(screen.getByText(/41 records that must be kept/)).toBeTruthy();
  });
});

describe("the message beside an action that was not carried out", () => {
  it("distinguishes changed facts, reasons and errors", () => {
    const { rerender } = render(<ActionFault error={new ApiError(409, "Conflict", { fingerprint: "g" })} />);
    expect(screen.getByRole("alert").textContent).toContain("Something has changed since you looked");
    rerender(
      <ActionFault
        error={new ApiError(422, "", { reasons: [remark("Type the name."), remark("A hold blocks it.")] })}
      />,
    );
    expect(screen.getByRole("alert").textContent).toBe("Type the name.A hold blocks it.");
    rerender(<ActionFault error={new ApiError(409, "This link is for another person.", { title: "x" })} />);
    expect(screen.getByRole("alert").textContent).toBe("This link is for another person.");
    rerender(<ActionFault error={null} />);
    expect(screen.queryByRole("alert")).toBeNull();
  });

  it("numbers several reasons in the order in which to solve them", () => {
    render(<Refused title="First" reasons={[remark("one"), remark("two")]} />);
    expect(screen.getByRole("list").tagName).toBe("OL");
    expect(screen.getAllByRole("listitem").map((item) => item.textContent)).toEqual(["one", "two"]);
  });
});
