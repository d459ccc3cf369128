import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { aske, vane } from "./fixtures";
import { openAt } from "./open";

describe("the desk", () => {
  const group = {
    cause: "rule",
    host: null,
    person: null,
    standing: null,
    day: null,
    rule: { id: "R-07", title: "Stays within policy", short: "too wide", level: "critical" },
    daysLeft: 0,
    count: 1,
    critical: 1,
    warnings: 0,
    notes: 0,
    onlyOwner: 0,
    byName: 0,
    name: "R-07",
    remedies: ["restrict"],
    atOnce: 1,
    fact: null,
    began: [],
    together: null,
    clause: "causes:is:R-07",
    sites: [{ id: 1, title: "Claims rota" }],
  };
  const empty = {
    today: "2099-11-24",
    sites: 9,
    findings: 0,
    notes: 0,
    approvals: [],
    offers: [],
    movedRecently: [],
    notDone: [],
    questions: [],
    putOff: [],
    groups: [],
    together: [],
  };
  const people = {
    kind: "still-have-access",
    host: "Quay",
    people: 2,
    critical: 3,
    warnings: 0,
    notes: 0,
    byName: 0,
    through: 2,
    lastDay: null,
  };

  it("names the person or the rule behind findings, with the days left and a link to act", async () => {
    await openAt("/desk", {
      "GET /api/desk": {
        ...empty,
        findings: 3,
        notes: 7,
        since: { day: "2099-11-23", opened: 12, cleared: 3, excepted: 0 },
        groups: [
          group,
          {
            ...group,
            cause: "owner-leaves",
            person: vane,
            rule: null,
            standing: "leaving",
            day: "2099-12-01",
            daysLeft: 6,
            count: 2,
            critical: 0,
            warnings: 2,
            onlyOwner: 1,
            clause: "causes:is:i.vane@merrowby.example",
          },
          {
            ...group,
            rule: { id: "R-20", title: "A purpose is set", short: "no purpose", level: "note" },
            daysLeft: null,
            count: 7,
            critical: 0,
            notes: 7,
            clause: "causes:is:R-20",
          },
        ],
      },
    });
    expect(await screen.findByText("Stays within policy: 1 site breaks this rule")).toBeTruthy();
    expect(screen.getByRole("heading", { level: 1 }).textContent).toBe("Tuesday's desk");
    expect(screen.getByText("Idris Vane leaves on 1 Dec 2099: 2 sites have too few active owners")).toBeTruthy();
    expect(screen.getByText("6 days")).toBeTruthy();
    expect(screen.getByText(/^Since your visit on/).textContent).toBe(
      "Since your visit on 23 Nov 2099: 12 findings opened, 3 cleared.",
    );
    expect(screen.getByRole("link", { name: "23 Nov 2099" }).getAttribute("href")).toBe(
      "/reports/findings-by-rule?from=2099-11-23",
    );
    expect(screen.getByRole("link", { name: "See the 2 sites" }).getAttribute("href")).toContain("i.vane");
    expect(screen.getByRole("link", { name: "See the 1 site" }).getAttribute("href")).toContain("R-07");

    // Notes want no decision: they are not counted among them, and stand together below.
    expect(screen.getByText(/^2 decisions with 3 findings;/)).toBeTruthy();
    const notes = within(screen.getByRole("region", { name: "Notes" }));
    expect(notes.getByText(/^7 findings of rules whose level is note/)).toBeTruthy();
    expect(notes.getByText("A purpose is set", { exact: false }).textContent).toBe("A purpose is set R-20");
    expect(notes.getByRole("link", { name: "7 sites" }).getAttribute("href")).toContain("R-20");
  });

  it("names who has left and still has access at a host, and leads to removing it", async () => {
    await openAt("/desk", {
      "GET /api/desk": {
        ...empty,
        findings: 2,
        groups: [
          {
            ...group,
            cause: "still-has-access",
            host: "Quay",
            person: vane,
            rule: null,
            standing: "left",
            day: "2001-12-01",
            count: 2,
            byName: 1,
            clause: "causes:is:i.vane@merrowby.example at Quay",
          },
        ],
      },
    });
    expect(
      await screen.findByText("Idris Vane left on 1 Dec 2001 and still has access to 2 sites at Quay"),
    ).toBeTruthy();
    expect(
      screen.getByText(/By name on 1 of them; on the others through groups, which are changed at Quay/),
    ).toBeTruthy();
    expect(screen.getByRole("link", { name: "Remove the access …" }).getAttribute("href")).toBe(
      `/remove-access?person=${vane.id}&host=Quay`,
    );
  });

  it("plans the remedies of a cause, leads to where a fact is set, and says what began the findings", async () => {
    const sent = await openAt("/desk", {
      "GET /api/desk": {
        ...empty,
        findings: 2,
        groups: [
          {
            ...group,
            began: [
              {
                entry: 41,
                at: "2099-11-24T09:00:00Z",
                action: "rule.written",
                label: "a rule was written",
                by: "Nora Bell",
                sites: 1,
              },
            ],
          },
          {
            ...group,
            rule: { id: "R-20", title: "A purpose is set", short: "no purpose", level: "warning" },
            name: "R-20",
            remedies: ["set-fact"],
            fact: "purpose",
            clause: "causes:is:R-20",
          },
        ],
      },
      "POST /api/batches/remedies": { id: "b1" },
    });
    expect((await screen.findByRole("link", { name: "Set the purpose …" })).getAttribute("href")).toBe(
      "/classification?fact=purpose",
    );
    expect(screen.getByText(/^since 24 Nov/).textContent).toMatch(/when a rule was written by Nora Bell\.$/);
    fireEvent.click(screen.getByRole("button", { name: /^Plan the remedy … Stays within policy/ }));
    await waitFor(() => expect(sent).toContainEqual({ call: "POST /api/batches/remedies", body: { cause: "R-07" } }));
  });

  it("says that a plan holds the first sites of a cause that has more than one plan can hold", async () => {
    const group40 = { ...group, count: 12_345, critical: 12_345, atOnce: 5000 };
    await openAt("/desk", { "GET /api/desk": { ...empty, findings: 12_345, groups: [group40] } });
    expect(await screen.findByRole("button", { name: /^Plan remedies for the first 5,000 … / })).toBeTruthy();
    expect(screen.getByText("12,345 critical", { exact: false })).toBeTruthy();
  });

  it("decides together whoever left and has access at a host, and names each", async () => {
    const through = (person: typeof vane, count: number) => ({
      ...group,
      cause: "still-has-access",
      host: "Quay",
      person,
      rule: null,
      standing: "left",
      day: "2001-12-01",
      count,
      critical: count,
      byName: 0,
      together: 0,
      clause: `causes:is:${person.mail} at Quay`,
    });
    const sent = await openAt("/desk", {
      "POST /api/desk/put-off": { place: 9 },
      "GET /api/desk": {
        ...empty,
        findings: 4,
        groups: [through(vane, 1), group, through(aske, 2)],
        together: [people],
      },
    });
    expect(await screen.findByText("2 people who left still have access at Quay")).toBeTruthy();
    expect(screen.getByText(/^2 decisions with 4 findings;/)).toBeTruthy();
    expect(screen.getByRole("link", { name: "Idris Vane (1 site)" }).getAttribute("href")).toContain("idris.vane");
    expect(screen.getByRole("link", { name: "Tomas Aske (2 sites)" }).getAttribute("href")).toContain("tomas.aske");
    expect(screen.getByText("3 critical", { exact: false })).toBeTruthy();

    // Both are put off as one.
    fireEvent.click(screen.getByRole("button", { name: /^Put off … \(2 people who left/ }));
    fireEvent.change(screen.getByLabelText("Until the end of"), { target: { value: "2099-12-09" } });
    fireEvent.change(screen.getByLabelText("Reason"), { target: { value: "The groups change on Friday" } });
    fireEvent.click(screen.getByRole("button", { name: "Put it off" }));
    await waitFor(() =>
      expect(sent.find(({ call }) => call === "POST /api/desk/put-off")?.body).toEqual({
        decisions: [vane, aske].map(({ mail }) => `causes:is:${mail} at Quay`),
        through: "2099-12-09",
        reason: "The groups change on Friday",
      }),
    );
  });

  it("shows the first of many people, how many are left, and the sites of all", async () => {
    const first = { ...group, cause: "still-has-access", host: "Quay", person: vane, rule: null, together: 0 };
    await openAt("/desk", {
      "GET /api/desk": {
        ...empty,
        findings: 1356,
        groups: [first],
        together: [{ ...people, people: 1356, critical: 1356, byName: 7 }],
      },
    });
    expect(await screen.findByText("1,356 people who left still have access at Quay")).toBeTruthy();
    expect(screen.getByText(/1,355 more are shown once these are decided/)).toBeTruthy();
    expect(screen.getByRole("link", { name: "See the sites of all" }).getAttribute("href")).toContain("ew");
    expect(screen.queryByRole("button", { name: /^Put off/ })).toBeNull();
  });

  it("decides owners who leave later together, and those who leave soon alone", async () => {
    const leaves = (person: typeof vane, daysLeft: number, day: string, together: number | null) => ({
      ...group,
      cause: "owner-leaves",
      person,
      rule: null,
      standing: "leaving",
      day,
      daysLeft,
      name: person.mail,
      remedies: ["add-owner"],
      together,
      clause: `causes:is:${person.mail}`,
    });
    const sent = await openAt("/desk", {
      "GET /api/desk": {
        ...empty,
        findings: 3,
        groups: [
          leaves({ ...vane, name: "Ada Lund", mail: "a.lund@merrowby.example" }, 14, "2099-12-01", null),
          leaves(vane, 21, "2099-12-08", 0),
          leaves(aske, 55, "2099-12-24", 0),
        ],
        together: [{ ...people, kind: "owners-leave-later", host: null, lastDay: "2099-12-24" }],
      },
      "POST /api/batches/remedies": { id: "b1" },
    });
    expect(
      await screen.findByText("2 owners leave by 24 Dec 2099, and their sites will have too few active owners"),
    ).toBeTruthy();
    expect(screen.getByText(/^2 decisions with 3 findings;/)).toBeTruthy();

    // By keys: down to the first decision, then its remedy.
    const list = screen.getAllByRole("list").find((one) => one.querySelector("[data-item]"))!;
    fireEvent.keyDown(list, { key: "ArrowDown" });
    expect(document.activeElement?.textContent).toContain("Ada Lund");
    fireEvent.keyDown(document.activeElement!, { key: "ArrowDown" });
    expect(document.activeElement?.textContent).toContain("2 owners leave");
    fireEvent.keyDown(document.activeElement!, { key: "ArrowUp" });
    fireEvent.keyDown(document.activeElement!, { key: "r" });
    await waitFor(() =>
      expect(sent).toContainEqual({ call: "POST /api/batches/remedies", body: { cause: "a.lund@merrowby.example" } }),
    );
  });

  it("explains an empty desk", async () => {
    await openAt("/desk", {
      "GET /api/desk": {
        ...empty,
      },
    });
    expect(await screen.findByRole("heading", { name: "Nothing needs you" })).toBeTruthy();
    expect(screen.getByText(/nobody waits for your answer/)).toBeTruthy();
  });

  it("says where sites come from while there are none", async () => {
    await openAt("/desk", { "GET /api/desk": { ...empty, sites: 0 } });
    expect((await screen.findByRole("link", { name: "Connect a host or import a list" })).getAttribute("href")).toBe(
      "/sources",
    );
  });
});
