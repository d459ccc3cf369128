import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { openAt } from "./open";

const named = {
  name: "Idris Vane",
  hasLeft: true,
  title: "Night pilots",
  hosts: [
    { host: "Quay", sites: 2 },
    { host: "Slipway", sites: 3 },
  ],
};

const open = (search: string, answer: object = named) =>
  openAt(`/remove-access?${search}`, {
    "GET /api/named-access": answer,
    "POST /api/batches": { id: "b1" },
    "GET /api/batches/b1": {},
  });

describe("removing access", () => {
  it("is planned from one site, from a host or everywhere", async () => {
    const sent = await open("person=3&site=7");
    expect(await screen.findByLabelText("From Night pilots only")).toBeTruthy();
    fireEvent.click(screen.getByLabelText("From all 5 sites (2 at Quay, 3 at Slipway)"));
    fireEvent.click(screen.getByRole("button", { name: "See the plan …" }));
    await waitFor(() =>
      expect(sent).toContainEqual({
        call: "POST /api/batches",
        body: { action: "access.remove", sites: null, person: 3, host: null, reason: null },
      }),
    );
  });

  it("begins at the host that the desk names", async () => {
    const sent = await open("person=3&host=Quay");
    expect((await screen.findByLabelText<HTMLInputElement>("From the 2 sites at Quay")).checked).toBe(true);
    fireEvent.click(screen.getByRole("button", { name: "See the plan …" }));
    await waitFor(() =>
      expect(sent).toContainEqual({
        call: "POST /api/batches",
        body: { action: "access.remove", sites: null, person: 3, host: "Quay", reason: null },
      }),
    );
  });

  it("says where access through a group is changed if nothing is granted by name", async () => {
    await open("person=3", { ...named, hosts: [] });
    expect(await screen.findByText(/Access through a group is changed in the group/)).toBeTruthy();
  });
});
