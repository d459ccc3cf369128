import { fireEvent, screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { openAt } from "./open";

describe("your sites", () => {
  const site = {
    id: 7,
    title: "Night pilots",
    address: "slipway.example/night-pilots",
    status: "published",
    published: null,
    findings: [],
    byName: true,
    others: [],
    atticEntry: null,
    offered: null,
    underWay: 0,
    questions: [],
  };
  const owner = { role: "owner", name: "Idris Vane" };

  it("offers the possible actions for each, and no handover of ownership through a group", async () => {
    await openAt(
      "/your-sites",
      {
        "GET /api/your-sites": {
          person: 3,
          offers: [],
          given: [],
          sites: [site, { ...site, id: 8, title: "Yard", byName: false }],
        },
      },
      owner,
    );
    expect(await screen.findByText("2 sites in use.")).toBeTruthy();
    expect(screen.getAllByRole("link", { name: "Hand over …" })).toHaveLength(1);
    expect(screen.getAllByRole("link", { name: "Move to the attic …" })).toHaveLength(2);
  });

  it("explains an empty list", async () => {
    await openAt("/your-sites", { "GET /api/your-sites": { person: 3, offers: [], given: [], sites: [] } }, owner);
    expect(await screen.findByText(/You own none/)).toBeTruthy();
  });

  it("asks what the owner answers about a finding, and an answer that somebody else decides needs words", async () => {
    const question = {
      id: "0d4a7c1e-7f0c-4f3e-9d53-3a7a2f6f1c11",
      rule: "R-02",
      state: "asked",
      askedAt: "2026-11-26T08:00:00Z",
      through: "2026-12-10",
      restricts: true,
      asked: [{ id: 3, name: "Idris Vane", mail: "i.vane@merrowby.example", isOutside: false }],
      answer: null,
      answeredBy: null,
      answeredAt: null,
      words: null,
    };
    const sent = await openAt(
      "/your-sites",
      {
        "GET /api/your-sites": { person: 3, offers: [], given: [], sites: [{ ...site, questions: [question] }] },
        [`POST /api/questions/${question.id}/answer`]: { place: 9, hostChange: null, offer: null, approval: null },
      },
      owner,
    );
    expect(
      await screen.findByText(
        /Please fix it, or answer until the end of 10 Dec. Then access is restricted to what policy allows/,
      ),
    ).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "It is not mine …" }));
    const words = screen.getByLabelText<HTMLInputElement>("A few words for the administrator");
    expect(words.required).toBe(true);
    fireEvent.change(words, { target: { value: "Ask Renata" } });
    fireEvent.click(screen.getByRole("button", { name: "Answer: it is not mine" }));
    await expect
      .poll(() => sent.find(({ call }) => call.startsWith("POST /api/questions/"))?.body)
      .toEqual({ answer: "not-mine", words: "Ask Renata" });
  });
});
