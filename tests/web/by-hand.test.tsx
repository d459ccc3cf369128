import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Wire } from "../../web/src/api/client";
import { openAt } from "./open";

const bell = { id: 1, name: "Nora Bell", mail: "n.bell@merrowby.example", isOutside: false };
const vane = { id: 2, name: "Idris Vane", mail: "i.vane@merrowby.example", isOutside: false };
const line: Wire["HandLineWire"] = {
  order: "o1",
  title: "Tide tables",
  host: "Foreshore",
  state: "sent",
  purpose: "reach",
  wanted: ["Passers-by can no longer view."],
  to: vane,
  by: bell,
  through: "2026-12-01",
  isOverdue: false,
  returned: 0,
};
const order = (more: Partial<Wire["HandOrderWire"]> = {}, of: Partial<Wire["HandLineWire"]> = {}) => ({
  line: { ...line, ...of },
  site: null,
  address: "foreshore.example/tides",
  key: "f1",
  reason: null,
  askedAt: "2026-11-26T08:00:00Z",
  givenAt: "2026-11-26T08:00:01Z",
  steps: ["Open the folder.", "Take them off."],
  account: "webmaster",
  support: "",
  words: null,
  doneBy: null,
  doneAt: null,
  proof: null,
  hasPicture: false,
  checkedBy: null,
  seenAt: null,
  mayDo: false,
  mayCheck: false,
  noCheck: null,
  mayHandOn: false,
  mayCallBack: false,
  ...more,
});
const open = (found: unknown, more: Record<string, unknown> = {}) =>
  openAt("/by-hand/o1", { "GET /api/by-hand/o1": found, ...more });

describe("an order by hand", () => {
  it("tells whoever has it what is to be so, the steps, the account, and what is not written down", async () => {
    const sent = await open(order({ mayDo: true, mayHandOn: true }), {
      "POST /api/by-hand/o1/done": order({ doneBy: vane }, { state: "confirmed" }),
    });
    expect(await screen.findByText("Passers-by can no longer view.", {}, { timeout: 5000 })).toBeTruthy();
    expect(screen.getAllByRole("listitem").map((item) => item.textContent)).toContain("Take them off.");
    expect(screen.getByText("not written down")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Call back …" })).toBeNull();
    fireEvent.change(screen.getByLabelText("What you did, and how it can be seen"), {
      target: { value: "Taken off." },
    });
    fireEvent.click(screen.getByRole("button", { name: "It is done" }));
    await waitFor(() =>
      expect(sent.find(({ call }) => call === "POST /api/by-hand/o1/done")?.body).toEqual({ proof: "Taken off." }),
    );
  });

  it("says why it came back, and that it is overdue", async () => {
    await open(
      order(
        { words: "The list as of 26 Nov 2026 says otherwise: Passers-by can still view." },
        { isOverdue: true, returned: 1 },
      ),
    );
    expect(await screen.findByText(/says otherwise/)).toBeTruthy();
    expect(screen.getByRole("status").textContent).toMatch(/^Overdue: it was to be done by/);
  });

  it("lets a second person look, and needs words where it is not so", async () => {
    const sent = await open(order({ mayCheck: true, doneBy: vane, proof: "Taken off." }, { state: "confirmed" }), {
      "POST /api/by-hand/o1/check": order({}, { state: "seen" }),
    });
    const look = await screen.findByRole("region", { name: "Look whether it is so" });
    fireEvent.change(within(look).getByLabelText(/^What you found/), { target: { value: "Anybody gets in." } });
    fireEvent.click(within(look).getByRole("button", { name: "It is not so: give it back" }));
    await waitFor(() =>
      expect(sent.find(({ call }) => call === "POST /api/by-hand/o1/check")?.body).toEqual({
        isSo: false,
        words: "Anybody gets in.",
      }),
    );
  });
});

describe("your sites", () => {
  it("has what somebody has to do by hand at its top, and nothing that others have", async () => {
    await openAt(
      "/yours",
      {
        "GET /api/yours": { person: 2, offers: [], given: [], sites: [] },
        "GET /api/by-hand": [line, { ...line, order: "o2", title: "Wrecks", to: bell }],
      },
      { mail: vane.mail, role: "owner" },
    );
    const list = await screen.findByRole("region", { name: "To do by hand" });
    expect(within(list).getByRole("link", { name: "Change who is let in: Tide tables" })).toBeTruthy();
    expect(within(list).queryByText(/Wrecks/)).toBeNull();
  });
});
