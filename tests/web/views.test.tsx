import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { aske, bell, posts } from "./fixtures";
import { openAt } from "./open";

describe("saved views", () => {
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
    fireEvent.click(await screen.findByRole("button", { name: /^Saved views \(2\)/ }));
    return sent;
  };

  it("show how many sites they have, how many are new, whose they are, and which one is invalid", async () => {
    await open();
    expect(screen.getByText("1 has grown")).toBeTruthy();
    const [mine, theirs] = within(screen.getByRole("list", { name: "Views" })).getAllByRole("listitem");
    expect(mine?.textContent).toContain("3 more since 12 Nov");
    expect(theirs?.textContent).toContain("shared by Tomas Aske; its filter is no longer valid: there is no attribute");
    expect(within(theirs!).queryByRole("button", { name: /^Forget/ })).toBeNull();
  });

  it("are opened with their filters, and counted as seen", async () => {
    const sent = await open("/?status=published");
    fireEvent.click(screen.getByRole("button", { name: /^Marine, wide open/ }));
    expect(await screen.findByRole("button", { name: "Unit: MAR" })).toBeTruthy();
    expect(screen.getByRole("button", { name: "Status: any status" })).toBeTruthy();
    await waitFor(() => expect(posts(sent).map((one) => one.call)).toEqual(["POST /api/views/1/seen"]));
  });

  it("are saved under a name without the current row, and warn before they replace one", async () => {
    const sent = await open("/?status=published&show=pages&site=9");
    const name = screen.getByLabelText(/Save the current view as/);
    fireEvent.change(name, { target: { value: "marine, WIDE open" } });
    expect(screen.getByRole("button", { name: "Replace the view" })).toBeTruthy();
    fireEvent.change(name, { target: { value: "Live ones" } });
    fireEvent.click(screen.getByRole("checkbox", { name: /Share with everybody/ }));
    fireEvent.click(screen.getByRole("button", { name: "Save the view" }));
    await waitFor(() => expect(posts(sent)).toHaveLength(1));
    expect(posts(sent)[0]?.body).toEqual({
      name: "Live ones",
      isShared: true,
      view: { sentence: { status: "published" }, show: ["pages"] },
    });
  });

  it("are offered beside an invalid address", async () => {
    const sent = await open("/?where=5&show=%7B%7D&verdict=perhaps&colour=red");
    expect(screen.getByRole("button", { name: "Unit: in any unit" })).toBeTruthy();
    expect(sent.some((one) => one.call === "GET /api/register")).toBe(true);
  });

  it("can be deleted only by their owner", async () => {
    const sent = await open();
    fireEvent.click(screen.getByRole("button", { name: "Delete the view Marine, wide open" }));
    await waitFor(() => expect(sent.some((one) => one.call === "DELETE /api/views/1")).toBe(true));
  });
});
