import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { openAt } from "./open";

const bell = { id: 1, name: "Nora Bell", mail: "n.bell@merrowby.example", isOutside: false };
const vane = { id: 2, name: "Idris Vane", mail: "i.vane@merrowby.example", isOutside: false };
const line: Schema["ManualTaskRow"] = {
  hostChange: "o1",
  title: "Tide tables",
  host: "Foreshore",
  state: "sent",
  purpose: "reach",
  wanted: ["Anonymous visitors can no longer view."],
  to: vane,
  by: bell,
  through: "2026-12-01",
  isOverdue: false,
  returned: 0,
};
const hostChange = (more: Partial<Schema["ManualTask"]> = {}, of: Partial<Schema["ManualTaskRow"]> = {}) => ({
  line: { ...line, ...of },
  site: null,
  address: "foreshore.example/tides",
  key: "f1",
  reason: null,
  requestedAt: "2026-11-26T08:00:00Z",
  givenAt: "2026-11-26T08:00:01Z",
  steps: ["Open the folder.", "Take them off."],
  account: "webmaster",
  support: "",
  words: null,
  doneBy: null,
  doneAt: null,
  report: null,
  hasPicture: false,
  checkedBy: null,
  seenAt: null,
  mayDo: false,
  mayCheck: false,
  noCheck: null,
  mayReassign: false,
  mayCancel: false,
  ...more,
});
const open = (found: unknown, more: Record<string, unknown> = {}) =>
  openAt("/manual-tasks/o1", { "GET /api/manual-tasks/o1": found, ...more });

describe("a manual task", () => {
  it("shows the assignee the wanted result, the steps, the account, and what is not set", async () => {
    const sent = await open(hostChange({ mayDo: true, mayReassign: true }), {
      "POST /api/manual-tasks/o1/done": hostChange({ doneBy: vane }, { state: "confirmed" }),
    });
    expect(await screen.findByText("Anonymous visitors can no longer view.")).toBeTruthy();
    expect(screen.getAllByRole("listitem").map((item) => item.textContent)).toContain("Take them off.");
    expect(screen.getByText("not set")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Cancel the task …" })).toBeNull();
    fireEvent.change(screen.getByLabelText("What you did, and how somebody can check it"), {
      target: { value: "Taken off." },
    });
    fireEvent.click(screen.getByRole("button", { name: "Report it done" }));
    await waitFor(() =>
      expect(sent.find(({ call }) => call === "POST /api/manual-tasks/o1/done")?.body).toEqual({
        report: "Taken off.",
      }),
    );
  });

  it("says why it was returned, and that it is overdue", async () => {
    await open(
      hostChange(
        { words: "The list as of 26 Nov 2026 reports something else: Anonymous visitors can still view." },
        { isOverdue: true, returned: 1 },
      ),
    );
    expect(await screen.findByText(/reports something else/)).toBeTruthy();
    expect(screen.getByRole("status").textContent).toMatch(/^Overdue: it was due on/);
  });

  it("lets a second person check, and needs a text if the result is wrong", async () => {
    const sent = await open(
      hostChange({ mayCheck: true, doneBy: vane, report: "Taken off." }, { state: "confirmed" }),
      {
        "POST /api/manual-tasks/o1/check": hostChange({}, { state: "verified" }),
      },
    );
    const look = await screen.findByRole("region", { name: "Check the result" });
    fireEvent.change(within(look).getByLabelText(/^What you found/), { target: { value: "Anybody gets in." } });
    fireEvent.click(within(look).getByRole("button", { name: "Return the task" }));
    await waitFor(() =>
      expect(sent.find(({ call }) => call === "POST /api/manual-tasks/o1/check")?.body).toEqual({
        isSo: false,
        words: "Anybody gets in.",
      }),
    );
  });
});

describe("your sites", () => {
  it("has the person's own manual tasks at the top, and no others", async () => {
    await openAt(
      "/your-sites",
      {
        "GET /api/your-sites": { person: 2, offers: [], given: [], sites: [] },
        "GET /api/manual-tasks": [line, { ...line, hostChange: "o2", title: "Wrecks", to: bell }],
      },
      { mail: vane.mail, role: "owner" },
    );
    const list = await screen.findByRole("region", { name: "Manual tasks" });
    expect(within(list).getByRole("link", { name: "Change who has access: Tide tables" })).toBeTruthy();
    expect(within(list).queryByText(/Wrecks/)).toBeNull();
  });
});
