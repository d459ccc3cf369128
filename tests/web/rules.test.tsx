import { fireEvent, screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { remark } from "./fixtures";
import { openAt, Problem } from "./open";

const owners: Schema["RuleOfBook"] = {
  rule: { id: "R-03", title: "Two active owners", short: "too few owners", level: "warning" },
  version: 1,
  scope: "",
  demand: "owners.active.count ge 2",
  enforcement: { kind: "report", days: 0 },
  from: "2025-07-19",
  isInForce: true,
  covers: 328,
  breaks: 125,
  excepted: 0,
  cannotTell: 11,
  fault: null,
};
const book: Schema["RuleBook"] = { rules: [owners], switchedOff: [], today: "2026-12-01" };
const tried: Schema["TriedRule"] = {
  covers: 328,
  breaks: 201,
  cannotTell: 11,
  added: 76,
  cleared: 0,
  units: [],
  hosts: [],
  examples: [],
  missing: [],
  filter: "not (owners.active.count ge 3)",
};
const plan: Schema["RulePlan"] = {
  fingerprint: "abc",
  rule: "R-03",
  version: 2,
  differences: [{ what: "demand", before: "owners.active.count ge 2", after: "owners.active.count ge 3" }],
  tried,
  ended: 0,
  voided: 2,
  look: remark("300 of 328 sites in use would newly break the rule."),
  refused: [],
};
const answers = { "GET /api/rules": book, "POST /api/rules/try": tried };
const changed = "/rules?rule=R-03&demand=owners.active.count+ge+3";
const put = (form: HTMLElement) => within(form).getByRole<HTMLButtonElement>("button", { name: /^Put / });

describe("writing a rule", () => {
  it("needs a reason for a change and a second look for a wide one, and sends exactly what was shown", async () => {
    const sent = await openAt(changed, {
      ...answers,
      "POST /api/rules/plan": plan,
      "POST /api/rules": { place: 9, rule: "R-03", version: 2 },
    });
    const form = await screen.findByRole("form", { name: "Make it a rule" });
    expect(put(form).disabled).toBe(true);
    fireEvent.change(within(form).getByLabelText("Reason"), { target: { value: "One is not enough at night" } });
    expect(await within(form).findByText("2 exceptions end", { exact: false })).toBeDefined();
    expect(form.textContent).toContain("demand: owners.active.count ge 2 → owners.active.count ge 3");
    expect(put(form).disabled).toBe(true);
    fireEvent.click(within(form).getByRole("checkbox", { name: /have looked again/ }));
    await expect.poll(() => put(form).disabled).toBe(false);
    expect(put(form).textContent).toBe("Put R-03 in force today");
    fireEvent.click(put(form));
    await expect
      .poll(() => sent.find((one) => one.call === "POST /api/rules")?.body)
      .toEqual({
        request: {
          rule: "R-03",
          text: {
            title: "Two active owners",
            short: "too few owners",
            level: "warning",
            scope: "",
            demand: "owners.active.count ge 3",
            enforcement: { kind: "report", days: 0 },
          },
          from: "2026-12-01",
          reason: "One is not enough at night",
        },
        looked: true,
        fingerprint: "abc",
      });
  });

  it("says every reason of a refusal, and keeps what was typed when the rule book has changed", async () => {
    let refused: Schema["Remark"][] = [remark("The first day is over."), remark("The title is too long.")];
    await openAt("/rules?demand=purpose+pr", {
      ...answers,
      "POST /api/rules/plan": () => ({ ...plan, rule: "R-08", look: null, voided: 0, differences: [], refused }),
      "POST /api/rules": new Problem(409, { ...plan, fingerprint: "def" }),
    });
    const form = await screen.findByRole("form", { name: "Make it a rule" });
    fireEvent.change(within(form).getByLabelText("Title"), { target: { value: "A purpose is set" } });
    fireEvent.change(within(form).getByLabelText("Short name of its findings"), { target: { value: "no purpose" } });
    expect(await within(form).findByText("The first day is over.")).toBeDefined();
    expect(within(form).getByText("The title is too long.")).toBeDefined();
    expect(put(form).disabled).toBe(true);
    refused = [];
    fireEvent.change(within(form).getByLabelText("First day"), { target: { value: "2026-12-24" } });
    await expect.poll(() => put(form).disabled).toBe(false);
    expect(put(form).textContent).toBe("Put R-08 in force from 24 Dec");
    fireEvent.click(put(form));
    expect(await within(form).findByText(/Something has changed since you looked/)).toBeDefined();
    expect(within(form).getByLabelText<HTMLInputElement>("Title").value).toBe("A purpose is set");
  });

  it("is not offered to those who may not", async () => {
    await openAt(changed, answers, { role: "auditor", mayAct: false });
    expect(await screen.findByRole("region", { name: "What it would find" })).toBeDefined();
    expect(screen.queryByRole("form", { name: "Make it a rule" })).toBeNull();
  });
});

describe("the rule book as a file", () => {
  it("asks for a second look where a rule of the file would find most sites", async () => {
    const added: Schema["RuleOfFilePlan"] = {
      id: "NAME-3",
      title: "Nothing passes",
      state: "added",
      differences: [],
      before: 0,
      after: 300,
      look: remark("300 of 328 sites in use would newly break the rule."),
      refused: [],
    };
    const filePlan: Schema["RuleFilePlan"] = {
      fingerprint: "fp",
      fault: null,
      added: 1,
      changed: 0,
      unchanged: 0,
      refused: 0,
      rules: [added],
    };
    const sent = await openAt("/rules", {
      ...answers,
      "POST /api/rules/file/plan": filePlan,
      "POST /api/rules/file": { place: 9, added: 1, changed: 0 },
    });
    const part = await screen.findByRole("region", { name: "The rule book as a file" });
    fireEvent.change(within(part).getByLabelText("Import a rule book"), { target: { files: [new File(["{}"], "b")] } });
    expect(await within(part).findByText(/^NAME-3: 300 of 328 sites/)).toBeDefined();
    fireEvent.change(within(part).getByLabelText(/^Reason/), { target: { value: "As agreed" } });
    const take = within(part).getByRole<HTMLButtonElement>("button", { name: "Import 1 rule" });
    expect(take.disabled).toBe(true);
    fireEvent.click(within(part).getByRole("checkbox", { name: /have looked again/ }));
    fireEvent.click(take);
    expect(await within(part).findByText("1 rule added, 0 changed.")).toBeDefined();
    expect(sent.find(({ call }) => call === "POST /api/rules/file")?.body).toEqual({
      book: "{}",
      reason: "As agreed",
      looked: true,
      fingerprint: "fp",
    });
  });
});

describe("a rule", () => {
  it("shows its versions with their writer and reason; only the last one can be undone, and only by those who may", async () => {
    const version = (number: number, more: Partial<Schema["RuleVersion"]>): Schema["RuleVersion"] => ({
      version: number,
      title: "Two active owners",
      short: "too few owners",
      level: "warning",
      scope: "",
      demand: "owners.active.count ge 2",
      enforcement: { kind: "report", days: 0 },
      from: "2025-07-19",
      isOff: false,
      isInForce: number === 1,
      reason: null,
      by: null,
      at: null,
      differences: [],
      ...more,
    });
    const history: Schema["RuleHistory"] = {
      rule: owners.rule,
      numbers: owners,
      today: "2026-12-01",
      versions: [
        version(2, {
          from: "2026-12-24",
          isOff: true,
          by: "Tomas Aske",
          at: "2026-12-01T07:00:00Z",
          reason: "Not needed",
          differences: [{ what: "state", before: "on", after: "switched off" }],
        }),
        version(1, {}),
      ],
    };
    const sent = await openAt("/rules/R-03", {
      "GET /api/rules/R-03": history,
      "POST /api/rules/undo": { place: 9, rule: "R-03", version: 3 },
    });
    const versions = await screen.findByRole("region", { name: "Versions" });
    expect(screen.getByText("R-03, warning. In force since 19 Jul 2025. Switched off from 24 Dec.")).toBeDefined();
    expect(versions.textContent).toContain("Tomas Aske");
    expect(versions.textContent).toContain("Not needed");
    expect(versions.textContent).toContain("state: on → switched off");
    fireEvent.click(within(versions).getByRole("button", { name: "Undo version 2" }));
    await expect
      .poll(() => sent.find((one) => one.call === "POST /api/rules/undo")?.body)
      .toEqual({ rule: "R-03", version: 2 });
    expect(within(versions).getAllByRole("button")).toHaveLength(1);
  });
});
