import { act, fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { openAt } from "./open";

const rule = (id: string, title: string, isInForce = true) =>
  ({ rule: { id, title, short: title, level: "note" }, isInForce }) as Schema["RuleOfBook"];
const book = {
  "GET /api/rules": {
    rules: [rule("R-10", "Names"), rule("R-41", "Web search"), rule("R-99", "To come", false)],
    switchedOff: [],
    today: "2026-12-01",
  },
};

describe("exceptions on many sites", () => {
  it("are planned for the rule that was looked at, until a last day", async () => {
    const sent = await openAt("/grant-exceptions?rule=R-41", {
      ...book,
      "POST /api/batches": { id: "b1" },
      "GET /api/batches/b1": {},
    });
    const { selection } = await import("../../web/src/batches/selection");
    act(() => selection.add([7, 8]));
    expect(await screen.findByRole("heading", { name: "Grant exceptions on 2 sites" })).toBeTruthy();
    const choice = await screen.findByLabelText<HTMLSelectElement>("Rule");
    await waitFor(() => expect(choice.value).toBe("R-41"));
    expect([...choice.options].map(({ value }) => value)).toEqual(["R-10", "R-41"]);
    const plan = screen.getByRole<HTMLButtonElement>("button", { name: "Plan it …" });
    expect(plan.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText("Last day"), { target: { value: "2027-03-31" } });
    fireEvent.click(plan);
    await waitFor(() =>
      expect(sent).toContainEqual({
        call: "POST /api/batches",
        body: { action: "exception.grant", sites: [7, 8], rule: "R-41", through: "2027-03-31" },
      }),
    );
  });
});
