import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { aske, bell, posts } from "./fixtures";
import { openAt } from "./open";

describe("kept views", () => {
  const view = (id: number, name: string, more: Record<string, unknown> = {}) => ({
    id,
    name,
    isMine: true,
    isShared: false,
    by: bell,
    view: { sentence: { unit: "MAR" } },
    count: 12,
    grown: 0,
    seenAt: null,
    problem: null,
    ...more,
  });
  const answers = {
    "GET /api/views": [
      view(1, "Marine, wide open", { grown: 3, seenAt: "2026-11-12T07:00:00Z" }),
      view(2, "Old ones", {
        isMine: false,
        isShared: true,
        by: aske,
        count: null,
        problem: 'there is no attribute "colour"',
      }),
    ],
    "POST /api/views": { id: 3 },
    "POST /api/views/1/seen": null,
    "DELETE /api/views/1": null,
  };
  const open = async (path = "/") => {
    const sent = await openAt(path, answers);
    fireEvent.click(await screen.findByRole("button", { name: /^Kept views \(2\)/ }, { timeout: 5000 }));
    return sent;
  };

  it("tell how many sites they show, how many came since, whose they are, and what is wrong with one", async () => {
    await open();
    expect(screen.getByText("1 has grown")).toBeTruthy();
    const [mine, theirs] = within(screen.getByRole("list", { name: "Views" })).getAllByRole("listitem");
    expect(mine?.textContent).toContain("3 more since 12 Nov");
    expect(theirs?.textContent).toContain("shared by Tomas Aske; it can no longer be read: there is no attribute");
    expect(within(theirs!).queryByRole("button", { name: /^Forget/ })).toBeNull();
  });

  it("are opened as the sentence that they are, and counted as seen", async () => {
    const sent = await open("/?stage=live");
    fireEvent.click(screen.getByRole("button", { name: /^Marine, wide open/ }));
    expect(await screen.findByRole("button", { name: "Unit: MAR" })).toBeTruthy();
    expect(screen.getByRole("button", { name: "Stage: are at any stage" })).toBeTruthy();
    await waitFor(() => expect(posts(sent).map((one) => one.call)).toEqual(["POST /api/views/1/seen"]));
  });

  it("are kept under a name without the line in focus, and say before they replace one", async () => {
    const sent = await open("/?stage=live&show=pages&site=9");
    const name = screen.getByLabelText(/Keep what is open as/);
    fireEvent.change(name, { target: { value: "marine, WIDE open" } });
    expect(screen.getByRole("button", { name: "Replace the view" })).toBeTruthy();
    fireEvent.change(name, { target: { value: "Live ones" } });
    fireEvent.click(screen.getByRole("checkbox", { name: /For everybody/ }));
    fireEvent.click(screen.getByRole("button", { name: "Keep the view" }));
    await waitFor(() => expect(posts(sent)).toHaveLength(1));
    expect(posts(sent)[0]?.body).toEqual({
      name: "Live ones",
      isShared: true,
      view: { sentence: { stage: "live" }, show: ["pages"] },
    });
  });

  it("stand beside an address that nobody could have meant", async () => {
    const sent = await open("/?where=5&show=%7B%7D&verdict=perhaps&colour=red");
    expect(screen.getByRole("button", { name: "Unit: in any unit" })).toBeTruthy();
    expect(sent.some((one) => one.call === "GET /api/register")).toBe(true);
  });

  it("are forgotten by whose they are", async () => {
    const sent = await open();
    fireEvent.click(screen.getByRole("button", { name: "Forget the view Marine, wide open" }));
    await waitFor(() => expect(sent.some((one) => one.call === "DELETE /api/views/1")).toBe(true));
  });
});
