import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Wire } from "../../web/src/api/client";
import { answering, show } from "./open";

const statement = (more: Partial<Wire["StatementWire"]>): Wire["StatementWire"] => ({
  source: "Slipway",
  value: "DRE",
  words: "Dredging",
  since: "2026-11-20T08:00:00Z",
  by: null,
  stands: true,
  ...more,
});
const disputed: Wire["FactSaidWire"] = {
  fact: "unit",
  isDisputed: true,
  mayDecide: true,
  statements: [statement({}), statement({ source: "Foreshore", value: "PIL", words: "Pilotage", stands: false })],
};

/** Shows the part of a folio, with a server that plans and says; returns what was sent. */
async function open(...said: Wire["FactSaidWire"][]) {
  const sent = answering({
    "POST /api/said/plan": { fingerprint: "fp" },
    "POST /api/said": { place: 3, count: 1, together: "2026-11-26T08:00:00Z" },
    "POST /api/said/take-back": { place: 4, count: 1, together: "2026-11-26T08:01:00Z" },
  });
  const { Said } = await import("../../web/src/folio/Said");
  show(<Said folio={{ said, line: { id: 7 } } as Wire["FolioWire"]} />);
  return sent;
}

describe("what sources say of a site", () => {
  it("takes no room where the host alone speaks", async () => {
    await open();
    expect(screen.queryByRole("region")).toBeNull();
  });

  it("shows each source with its time and what stands, and decides for the one that is chosen", async () => {
    const sent = await open(disputed);
    const part = screen.getByRole("region", { name: "Sources say different things" });
    expect(within(part).getByText("Unit: undecided")).toBeTruthy();
    expect(within(part).getByText(/says Slipway, since 20 Nov.*; it stands/)).toBeTruthy();
    fireEvent.click(within(part).getAllByRole("button", { name: "Decide for this" })[1]!);
    await waitFor(() =>
      expect(sent).toEqual([
        { call: "POST /api/said/plan", body: { fact: "unit", sites: [7], value: "PIL", group: null } },
        {
          call: "POST /api/said",
          body: { wish: { fact: "unit", sites: [7], value: "PIL", group: null }, fingerprint: "fp" },
        },
      ]),
    );
  });

  it("says who decided, and lets it be taken back", async () => {
    const bell = { id: 1, name: "Nora Bell", mail: "n.bell@merrowby.example", isOutside: false };
    const sent = await open({
      ...disputed,
      isDisputed: false,
      statements: [
        statement({ source: null, by: bell }),
        statement({ source: "Foreshore", words: "Pilotage", value: "PIL", stands: false }),
      ],
    });
    const part = screen.getByRole("region", { name: "Said by more than the host" });
    expect(within(part).getByText(/decided here by Nora Bell/)).toBeTruthy();
    fireEvent.click(within(part).getByRole("button", { name: "Take it back" }));
    await waitFor(() =>
      expect(sent).toEqual([{ call: "POST /api/said/take-back", body: { fact: "unit", sites: [7], together: null } }]),
    );
  });

  it("has no buttons for whoever cannot decide", async () => {
    await open({ ...disputed, mayDecide: false });
    expect(screen.queryByRole("button")).toBeNull();
  });
});
