import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { posts } from "./fixtures";
import { openAt, Problem } from "./open";

describe("a link from a mail", () => {
  it("does nothing until somebody continues", async () => {
    const sent = await openAt("/l/tok", { "GET /api/links/tok": { purpose: "offer" } });
    expect(await screen.findByRole("button", { name: "Continue" })).toBeTruthy();
    expect(posts(sent)).toEqual([]);
  });

  it("is refused with the reason, and the refusal is in the journal", async () => {
    const problem = new Problem(410, { title: "This link was used before.", detail: "A link from a mail works once." });
    const sent = await openAt("/l/tok", { "GET /api/links/tok": problem, "POST /api/links/tok/open": problem });
    expect((await screen.findByRole("alert")).textContent).toBe(
      "This link was used before. A link from a mail works once.",
    );
    await waitFor(() => expect(posts(sent).map((one) => one.call)).toEqual(["POST /api/links/tok/open"]));
  });

  it("sets a password that was typed twice", async () => {
    const sent = await openAt("/l/tok", {
      "GET /api/links/tok": { purpose: "password" },
      "POST /api/links/tok/password": null,
    });
    fireEvent.change(await screen.findByLabelText("Password"), { target: { value: "seven grey herons" } });
    fireEvent.change(screen.getByLabelText("Repeat the password"), { target: { value: "seven grey heron" } });
    expect(screen.getByRole("alert").textContent).toBe("The passwords differ.");
    fireEvent.change(screen.getByLabelText("Repeat the password"), { target: { value: "seven grey herons" } });
    fireEvent.click(screen.getByRole("button", { name: "Set the password" }));
    expect(await screen.findByRole("heading", { name: "Your password is set" })).toBeTruthy();
    expect(posts(sent)).toEqual([{ call: "POST /api/links/tok/password", body: { password: "seven grey herons" } }]);
  });
});
