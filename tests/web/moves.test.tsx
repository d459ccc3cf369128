import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { remark } from "./fixtures";
import { answering, Problem } from "./open";

const there = {
  id: 9,
  title: "Pilots",
  address: null,
  host: "Quay",
  because: ["it has the same name", "somebody owns both"],
};
const none = { to: null, was: [], candidates: [], mayDecide: true };

async function open(moves: unknown, more: Record<string, unknown> = {}) {
  const sent = answering({ "GET /api/sites/7/moves": moves, ...more });
  const { Moves } = await import("../../web/src/site/Moves");
  const { showWithLinks } = await import("./open");
  showWithLinks(<Moves site={7} />);
  await waitFor(() => expect(sent).not.toHaveLength(0));
  return sent;
}

describe("where a site moved", () => {
  it("takes no space for a site that has not moved", async () => {
    await open(none);
    expect(screen.queryByRole("region")).toBeNull();
  });

  it("names candidates for a site that is no longer reported, with the evidence, and lets a person decide", async () => {
    const sent = await open({ ...none, candidates: [there] }, { "POST /api/sites/7/moved": { place: 3 } });
    expect(await screen.findByText("it has the same name; somebody owns both")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Confirm the move" }));
    await waitFor(() => expect(sent.find(({ call }) => call === "POST /api/sites/7/moved")?.body).toEqual({ to: 9 }));
  });

  it("says why it is not possible", async () => {
    await open(
      { ...none, candidates: [there] },
      { "POST /api/sites/7/moved": new Problem(422, { reasons: [remark("Slipway still lists it.")] }) },
    );
    fireEvent.click(await screen.findByRole("button", { name: "Confirm the move" }));
    expect((await screen.findByRole("alert")).textContent).toBe("Slipway still lists it.");
  });

  it("links both ways once it is decided, and only a person who may decide can undo it", async () => {
    await open({ ...none, to: there, was: [{ ...there, id: 2, title: "Old pilots" }], mayDecide: false });
    expect((await screen.findByRole("region")).textContent).toContain("It is now Pilots on Quay.");
    expect(screen.getByText("Old pilots")).toBeTruthy();
    expect(screen.queryByRole("button")).toBeNull();
  });
});
