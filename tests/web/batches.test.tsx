import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { remark, vane } from "./fixtures";
import { openAt } from "./open";

const batch = {
  id: "b1",
  action: "site.move-to-attic",
  state: "planned",
  by: { id: 1, name: "Nora Bell", mail: "n.bell@merrowby.example", isOutside: false },
  maySteer: true,
  reason: null,
  plannedAt: "2026-11-26T08:00:00Z",
  startedAt: null,
  endedAt: null,
  words: null,
  sites: 3,
  wantsNumber: true,
  wantsReason: false,
  mayAdjust: false,
  mayRename: false,
  counts: [
    { outcome: "waiting", count: 2 },
    { outcome: "refused", count: 1 },
  ],
  effect: { gain: 0, lose: 12, doorsShut: 1, doorsOpened: 0, cleared: [], opened: [], seconds: 1, unaffected: 0 },
  mayUndo: false,
  undoes: null,
  undoneBy: null,
};
const line = {
  site: 7,
  title: "Night pilots",
  address: "slipway.example/night-pilots",
  action: "site.move-to-attic",
  about: null,
  rule: null,
  through: null,
  outcome: "waiting",
  gain: 0,
  lose: 12,
  shutsDoors: true,
  opensDoors: false,
  cleared: [],
  opened: [],
  needsSecond: null,
  unaffected: [],
  advice: [],
  name: null,
  nameBefore: null,
  refused: [],
  hostMessage: null,
  hostChange: null,
  approval: null,
};
const refused = {
  ...line,
  site: 8,
  title: "Held notes",
  outcome: "refused",
  lose: 0,
  shutsDoors: false,
  refused: [remark("A hold blocks it: Inquiry 9.")],
};
const open = (more: object = {}, lines: object[] = [line, refused]) =>
  openAt("/batches/b1", {
    "GET /api/batches/b1": { ...batch, ...more },
    "GET /api/batches/b1/lines": { total: lines.length, lines },
    "POST /api/batches/b1/start": { id: "b1" },
    "POST /api/batches/b1/stop": { id: "b1" },
    "POST /api/batches/b1/adjust": { id: "b1" },
    "GET /api/batches/b1/choices": [
      { ...line, action: "site.restrict" },
      { ...line, action: "owner.offer", about: "Ada Lund", refused: [remark("Ada Lund has left.")] },
      {
        ...line,
        action: "exception.grant",
        rule: { id: "R-07", title: "Reach", short: "reach", level: "critical" },
        through: "2027-03-01",
      },
    ],
    "POST /api/batches/b1/resume": { id: "b1" },
    "POST /api/batches/b1/again": { id: "b2" },
    "POST /api/batches/b1/undo/plan": { id: "b2" },
    "GET /api/batches/b2": { ...batch, id: "b2", action: "site.restore", wantsNumber: false, undoes: "b1" },
    "GET /api/batches/b2/lines": { total: 1, lines: [line] },
  });

describe("an action on many sites", () => {
  it("shows for each site whether the action is possible, and why not", async () => {
    await open();
    expect(await screen.findByText("A hold blocks it: Inquiry 9.")).toBeTruthy();
    expect(screen.getByRole("heading", { level: 1 }).textContent).toBe("Move 2 sites to the attic");
    expect(screen.getByText("12 people lose access to some site.")).toBeTruthy();
    expect(screen.getByRole("button", { name: "1 not possible" }).getAttribute("aria-pressed")).toBe("false");
  });

  it("starts only once the number of sites is typed", async () => {
    const sent = await open();
    const start = await screen.findByRole<HTMLButtonElement>("button", { name: "Move 2 sites to the attic" });
    const number = screen.getByLabelText("How many sites");
    fireEvent.change(number, { target: { value: "3" } });
    expect(start.disabled).toBe(true);
    fireEvent.change(number, { target: { value: "2" } });
    fireEvent.change(screen.getByLabelText("Reason (optional)"), { target: { value: "unused" } });
    fireEvent.click(start);
    await waitFor(() =>
      expect(sent).toContainEqual({
        call: "POST /api/batches/b1/start",
        body: { number: 2, reason: "unused", password: null },
      }),
    );
  });

  it("asks another person than the proposed one to own a site", async () => {
    const offer = { ...line, action: "owner.offer", about: "Ada Lund" };
    const sent = await openAt("/batches/b1", {
      "GET /api/batches/b1": { ...batch, action: "findings.remedy", about: "Two owners", mayAdjust: true },
      "GET /api/batches/b1/lines": { total: 1, lines: [offer] },
      "GET /api/batches/b1/choices": [offer],
      "POST /api/batches/b1/adjust": { id: "b1" },
      "POST /api/owners/candidates": {
        candidates: [{ person: vane, unit: "Pilotage", owns: 0, edits: 1, inUnit: 1, load: 4, whyNot: [] }],
      },
    });
    fireEvent.click(await screen.findByRole("button", { name: /^Change … ?what is done on Night pilots$/ }));
    fireEvent.change(await screen.findByLabelText("Another person"), { target: { value: "Vane" } });
    fireEvent.click(await screen.findByRole("radio", { name: /Idris Vane.*edits it; in Pilotage; owns 4 sites/ }));
    expect(screen.getByRole("radio", { name: /^Ask Idris Vane to own it too/ })).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Plan it so" }));
    await waitFor(() =>
      expect(sent).toContainEqual({
        call: "POST /api/batches/b1/adjust",
        body: { sites: [7], action: "owner.offer", through: null, person: vane.id },
      }),
    );
  });

  it("has another action on a site, an exception until a day that is chosen, and leaves sites out", async () => {
    const remedies = {
      action: "findings.remedy",
      about: "Access within policy",
      wantsNumber: false,
      mayAdjust: true,
      wantsReason: true,
    };
    const sent = await open(remedies, [{ ...line, action: "site.restrict" }]);
    const sentTo = (body: object) =>
      waitFor(() => expect(sent).toContainEqual({ call: "POST /api/batches/b1/adjust", body }));
    expect(await screen.findByText("Restrict to policy")).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Carry out on 2 sites" }).disabled).toBe(true);
    fireEvent.click(screen.getByRole("button", { name: /^Change … ?what is done on Night pilots$/ }));
    const asked = await screen.findByRole<HTMLInputElement>("radio", { name: /Ask Ada Lund to own it too/ });
    expect(asked.disabled).toBe(true);
    fireEvent.click(screen.getByRole("radio", { name: /Exception from R-07 until the end of 1 Mar 2027/ }));
    fireEvent.change(screen.getByLabelText("Last day of the exception"), { target: { value: "2026-12-24" } });
    fireEvent.click(screen.getByRole("button", { name: "Plan it so" }));
    await sentTo({ sites: [7], action: "exception.grant", through: "2026-12-24" });
    fireEvent.click(screen.getByRole("button", { name: /^Leave out ?: Night pilots$/ }));
    await sentTo({ sites: [7], action: null });
    fireEvent.click(screen.getByRole("button", { name: "An exception" }));
    await sentTo({ sites: null, action: "exception.grant" });
  });

  it("starts for a new owner only with the password, and names the person", async () => {
    const sent = await open({
      action: "owner.offer",
      about: "Idris Vane",
      reason: "r",
      wantsNumber: false,
      wantsPassword: true,
    });
    const start = await screen.findByRole<HTMLButtonElement>("button", { name: "Ask Idris Vane to own 2 sites too" });
    expect(start.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText("Your password, to confirm your identity"), { target: { value: "secret" } });
    fireEvent.click(start);
    await waitFor(() =>
      expect(sent).toContainEqual({
        call: "POST /api/batches/b1/start",
        body: { number: null, reason: null, password: "secret" },
      }),
    );
  });

  it("can be stopped while it runs, and resumed", async () => {
    const running = await open({ state: "running", startedAt: "2026-11-26T08:01:00Z" });
    fireEvent.click(await screen.findByRole("button", { name: "Stop before the next site" }));
    await waitFor(() => expect(running.map((one) => one.call)).toContain("POST /api/batches/b1/stop"));
    cleanup();
    const stopped = await open({ state: "stopped", startedAt: "2026-11-26T08:01:00Z" });
    fireEvent.click(await screen.findByRole("button", { name: "Continue with 2 sites" }));
    await waitFor(() => expect(stopped.map((one) => one.call)).toContain("POST /api/batches/b1/resume"));
  });

  it("plans to undo a batch, and names the batch that it undoes", async () => {
    const ended = { state: "ended", startedAt: "2026-11-26T08:01:00Z", endedAt: "2026-11-26T08:02:00Z" };
    await open({ ...ended, counts: [{ outcome: "done", count: 2 }], mayUndo: true });
    fireEvent.click(await screen.findByRole("button", { name: "Undo on all sites …" }));
    expect(await screen.findByRole("heading", { level: 1, name: "Restore 2 sites" })).toBeTruthy();
    expect(screen.getByRole("link", { name: "Undoes an earlier batch" }).getAttribute("href")).toBe("/batches/b1");
    cleanup();
    await open({ ...ended, undoneBy: "b2" });
    expect((await screen.findByRole("link", { name: /Undone later/ })).getAttribute("href")).toBe("/batches/b2");
    expect(screen.queryByRole("button", { name: /Take it all back/ })).toBeNull();
  });

  it("offers to plan again for the skipped sites, only to the person who planned it", async () => {
    const ended = { state: "ended", startedAt: "2026-11-26T08:01:00Z", endedAt: "2026-11-26T08:02:00Z" };
    const counts = [
      { outcome: "done", count: 1 },
      { outcome: "changed", count: 1 },
      { outcome: "host-refused", count: 1 },
    ];
    const sent = await open({ ...ended, counts });
    expect(await screen.findByText("2 sites were skipped or refused.")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Plan again for them" }));
    await waitFor(() => expect(sent.map((one) => one.call)).toContain("POST /api/batches/b1/again"));
    cleanup();
    await open({ ...ended, counts, maySteer: false });
    await screen.findByText(/Nora Bell started it/);
    expect(screen.queryByRole("button", { name: /Plan again/ })).toBeNull();
  });
});
