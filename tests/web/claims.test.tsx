import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { answering, show } from "./open";

const claim = (more: Partial<Schema["Claim"]>): Schema["Claim"] => ({
  source: "Slipway",
  value: "DRE",
  words: "Dredging",
  since: "2026-11-20T08:00:00Z",
  by: null,
  stands: true,
  ...more,
});
const disputed: Schema["FactClaim"] = {
  fact: "unit",
  isDisputed: true,
  mayDecide: true,
  claims: [claim({}), claim({ source: "Foreshore", value: "PIL", words: "Pilotage", stands: false })],
};

/** Shows the part of a site page, with a server that plans and says; returns what was sent. */
async function open(...claims: Schema["FactClaim"][]) {
  const sent = answering({
    "POST /api/classification/facts/plan": { fingerprint: "fp" },
    "POST /api/classification/facts": { place: 3, count: 1, together: "2026-11-26T08:00:00Z" },
    "POST /api/classification/facts/undo": { place: 4, count: 1, together: "2026-11-26T08:01:00Z" },
  });
  const { Claims } = await import("../../web/src/site/Claims");
  show(<Claims sitePage={{ claims, line: { id: 7 } } as Schema["SitePage"]} />);
  return sent;
}

describe("claims of sources about a site", () => {
  it("takes no space if only the host has claims", async () => {
    await open();
    expect(screen.queryByRole("region")).toBeNull();
  });

  it("shows each source with its date and which value applies, and sets the chosen value", async () => {
    const sent = await open(disputed);
    const part = screen.getByRole("region", { name: "Sources disagree" });
    expect(within(part).getByText("Unit: not settled")).toBeTruthy();
    expect(within(part).getByText(/reported by Slipway, since 20 Nov.*; applies/)).toBeTruthy();
    fireEvent.click(within(part).getAllByRole("button", { name: "Set this value" })[1]!);
    await waitFor(() =>
      expect(sent).toEqual([
        { call: "POST /api/classification/facts/plan", body: { fact: "unit", sites: [7], value: "PIL", group: null } },
        {
          call: "POST /api/classification/facts",
          body: { request: { fact: "unit", sites: [7], value: "PIL", group: null }, fingerprint: "fp" },
        },
      ]),
    );
  });

  it("shows who decided, and can undo it", async () => {
    const bell = { id: 1, name: "Nora Bell", mail: "n.bell@merrowby.example", isOutside: false };
    const sent = await open({
      ...disputed,
      isDisputed: false,
      claims: [
        claim({ source: null, by: bell }),
        claim({ source: "Foreshore", words: "Pilotage", value: "PIL", stands: false }),
      ],
    });
    const part = screen.getByRole("region", { name: "Facts from several sources" });
    expect(within(part).getByText(/set here by Nora Bell/)).toBeTruthy();
    fireEvent.click(within(part).getByRole("button", { name: "Undo" }));
    await waitFor(() =>
      expect(sent).toEqual([
        { call: "POST /api/classification/facts/undo", body: { fact: "unit", sites: [7], together: null } },
      ]),
    );
  });

  it("has no buttons for a person who may not decide", async () => {
    await open({ ...disputed, mayDecide: false });
    expect(screen.queryByRole("button")).toBeNull();
  });
});
