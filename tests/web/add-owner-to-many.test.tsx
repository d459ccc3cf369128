import { act, fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { vane } from "./fixtures";
import { openAt } from "./open";

const candidate = { person: vane, unit: "Pilotage", owns: 0, edits: 2, inUnit: 1, load: 4, whyNot: [] };

describe("an owner for many sites", () => {
  it("is chosen by evidence over all of them, with a reason, and planned", async () => {
    const sent = await openAt("/add-owner", {
      "POST /api/owners/candidates": { candidates: [candidate] },
      "POST /api/batches": { id: "b1" },
      "GET /api/batches/b1": {},
    });
    const { selection } = await import("../../web/src/batches/selection");
    act(() => selection.add([7, 8]));
    expect(await screen.findByText("edits 2 of them; in Pilotage, the unit of 1 of them; owns 4 sites")).toBeTruthy();
    fireEvent.click(screen.getByRole("radio"));
    const plan = screen.getByRole<HTMLButtonElement>("button", { name: "Plan it for Idris Vane …" });
    expect(plan.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText("Reason"), { target: { value: "one is too few" } });
    fireEvent.click(plan);
    await waitFor(() =>
      expect(sent).toContainEqual({
        call: "POST /api/batches",
        body: { action: "owner.offer", sites: [7, 8], person: vane.id, reason: "one is too few" },
      }),
    );
  });

  it("says what to do where no site is selected", async () => {
    await openAt("/add-owner", {});
    expect(await screen.findByText(/A reload clears the selection/)).toBeTruthy();
  });
});
