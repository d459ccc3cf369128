// @vitest-environment jsdom
import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { openAt, Problem, type Sent } from "./open";

// jsdom has no layout, so it cannot bring anything into view.
Element.prototype.scrollIntoView = () => undefined;
window.scrollTo = () => undefined;

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const person = (id: number, name: string) => ({
  id,
  name,
  mail: `${name.toLowerCase().replace(" ", ".")}@merrowby.example`,
  isOutside: false,
});
const [bell, aske, vane] = [person(1, "Nora Bell"), person(2, "Tomas Aske"), person(3, "Idris Vane")] as const;
const plan = {
  fingerprint: "seen",
  changes: [{ who: "Tomas Aske", from: null, to: "own" }],
  powers: [],
  cleared: [],
  opened: [],
  remains: [],
  visitsAffected: 0,
  along: [],
  sure: "undo-alone",
  needsSecond: null,
  loss: null,
  stopMinutes: null,
};
const done = { place: 9, order: null, offer: "o1", approval: null };
const posts = (sent: Sent[]) => sent.filter((one) => one.call.startsWith("POST"));

describe("an offer", () => {
  const offer = {
    id: "o1",
    state: "offered",
    site: 7,
    title: "Night pilots",
    address: "slipway.example/night-pilots",
    host: "Slipway",
    to: bell,
    giver: vane,
    by: vane,
    second: null,
    after: "leaves",
    reason: "I leave",
    offeredAt: "2026-11-25T08:00:00Z",
    through: "2026-12-09",
    mayAnswer: true,
    mayWithdraw: false,
    words: null,
    steps: [
      { step: "offered", at: "2026-11-25T08:00:00Z" },
      { step: "countersigned", at: null },
    ],
    receipt: [],
    remains: [],
    plan,
    refused: [],
  };

  it("says who, what and until when, and accepts what was seen, through the mail's link", async () => {
    const sent = await openAt("/offers/o1?link=tok", {
      "GET /api/offers/o1": offer,
      "POST /api/offers/o1/countersign": done,
    });
    expect(await screen.findByText(/Idris Vane offered it to Nora Bell on .* and leaves the site\./)).toBeTruthy();
    expect(screen.getByText(/It can be answered through 9 Dec/)).toBeTruthy();
    expect(screen.getByText("not yet countersigned")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Accept the key" }));
    await waitFor(() => expect(posts(sent)).toHaveLength(1));
    expect(posts(sent)[0]?.body).toEqual({ fingerprint: "seen", link: "tok", reason: null });
  });

  it("says that something has changed, and does nothing", async () => {
    await openAt("/offers/o1", {
      "GET /api/offers/o1": offer,
      "POST /api/offers/o1/countersign": new Problem(409, { ...plan, fingerprint: "other" }),
    });
    fireEvent.click(await screen.findByRole("button", { name: "Accept the key" }));
    expect((await screen.findByRole("alert")).textContent).toContain("Something has changed since you looked");
  });

  it("declines with a reason, and has no button where the table has no move", async () => {
    const sent = await openAt("/offers/o1", {
      "GET /api/offers/o1": offer,
      "POST /api/offers/o1/decline": done,
    });
    fireEvent.click(await screen.findByRole("button", { name: "Decline …" }));
    fireEvent.change(screen.getByLabelText("Reason (if you like)"), { target: { value: "too much" } });
    fireEvent.click(screen.getByRole("button", { name: "Decline it" }));
    await waitFor(() => expect(posts(sent)[0]?.body).toEqual({ reason: "too much", link: null }));
    cleanup();
    await openAt("/offers/o1", {
      "GET /api/offers/o1": { ...offer, state: "lapsed", mayAnswer: false, plan: null },
    });
    expect(await screen.findByText(/Nobody answered through 9 Dec, so it lapsed/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Accept|Decline|Take the offer/ })).toBeNull();
  });
});

describe("what waits for a second person", () => {
  const approval = {
    id: "a1",
    state: "asked",
    deed: "key.offer",
    site: 7,
    title: "Storm desk",
    address: null,
    host: "Slipway",
    by: aske,
    reason: "left in spring",
    because: "Giving a key in the place of its holder takes two people.",
    askedAt: "2026-11-25T08:00:00Z",
    through: "2026-12-02",
    renewed: 1,
    mayAnswer: true,
    mayWithdraw: false,
    plan,
    refused: [],
  };

  it("shows who asks, why, that it is asked anew, and agrees to what was seen", async () => {
    const sent = await openAt("/approvals/a1", {
      "GET /api/approvals/a1": approval,
      "POST /api/approvals/a1/give": done,
    });
    expect(await screen.findByText("“left in spring”")).toBeTruthy();
    expect(screen.getByText(/The facts have changed since it was first asked/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Agree: do it" }));
    await waitFor(() => expect(posts(sent)[0]?.body).toEqual({ fingerprint: "seen" }));
  });

  it("lets nobody agree to what they asked for", async () => {
    await openAt("/approvals/a1", {
      "GET /api/approvals/a1": { ...approval, mayAnswer: false, mayWithdraw: true },
    });
    expect(await screen.findByText(/You asked for it yourself/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Agree|Do not agree/ })).toBeNull();
    expect(screen.getByRole("button", { name: "Withdraw it" })).toBeTruthy();
  });
});

describe("the desk", () => {
  const group = {
    person: null,
    standing: null,
    day: null,
    rule: { id: "R-07", title: "No wider than the house allows", short: "too wide", level: "must" },
    daysLeft: 0,
    count: 1,
    must: 1,
    should: 0,
    look: 0,
    onlyOwner: 0,
    sites: [{ id: 1, title: "Claims rota" }],
  };

  it("names the person or the rule behind findings, with days and where to act", async () => {
    await openAt("/desk", {
      "GET /api/desk": {
        sites: 9,
        findings: 3,
        approvals: [],
        offers: [],
        heard: [],
        groups: [
          group,
          {
            ...group,
            person: vane,
            rule: null,
            standing: "leaving",
            day: "2099-12-01",
            daysLeft: 6,
            count: 2,
            must: 0,
            should: 2,
            onlyOwner: 1,
          },
        ],
      },
    });
    expect(await screen.findByText("No wider than the house allows: 1 site does not keep it")).toBeTruthy();
    expect(screen.getByText("Idris Vane leaves on 1 Dec 2099 and holds keys of 2 sites")).toBeTruthy();
    expect(screen.getByText("6 days")).toBeTruthy();
    expect(screen.getByRole("link", { name: "See the keys" }).getAttribute("href")).toBe("/keys?person=3");
    expect(screen.getByRole("link", { name: "See the 1 site" }).getAttribute("href")).toBe("/?rule=R-07");
  });

  it("says so where nothing is to be decided", async () => {
    await openAt("/desk", {
      "GET /api/desk": { sites: 9, findings: 0, approvals: [], offers: [], heard: [], groups: [] },
    });
    expect(await screen.findByRole("heading", { name: "Nothing is to be decided" })).toBeTruthy();
  });
});

describe("one's own sites", () => {
  const site = {
    id: 7,
    title: "Night pilots",
    address: "slipway.example/night-pilots",
    stage: "live",
    live: null,
    findings: [],
    byName: true,
    others: [],
    stay: null,
    offered: null,
    underWay: 0,
  };
  const owner = { role: "owner", name: "Idris Vane" };

  it("offers what can be done with each, and no handing over of a key that is held through a group", async () => {
    await openAt(
      "/yours",
      {
        "GET /api/yours": {
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
    expect(screen.getAllByRole("link", { name: "Put away …" })).toHaveLength(2);
  });

  it("explains an empty list", async () => {
    await openAt("/yours", { "GET /api/yours": { person: 3, offers: [], given: [], sites: [] } }, owner);
    expect(await screen.findByText(/You hold the key of no site/)).toBeTruthy();
  });
});

describe("a link from a mail", () => {
  it("does nothing until somebody says so", async () => {
    const sent = await openAt("/l/tok", { "GET /api/links/tok": { purpose: "offer" } });
    expect(await screen.findByRole("button", { name: "Go on" })).toBeTruthy();
    expect(posts(sent)).toEqual([]);
  });

  it("is refused in full, and that is written down for who is signed in", async () => {
    const problem = new Problem(410, { title: "This link was used before.", detail: "A link from a mail works once." });
    const sent = await openAt("/l/tok", { "GET /api/links/tok": problem, "POST /api/links/tok/open": problem });
    expect((await screen.findByRole("alert")).textContent).toBe(
      "This link was used before. A link from a mail works once.",
    );
    await waitFor(() => expect(posts(sent).map((one) => one.call)).toEqual(["POST /api/links/tok/open"]));
  });

  it("lets a password be chosen, the same twice", async () => {
    const sent = await openAt("/l/tok", {
      "GET /api/links/tok": { purpose: "password" },
      "POST /api/links/tok/password": null,
    });
    fireEvent.change(await screen.findByLabelText("Password"), { target: { value: "seven grey herons" } });
    fireEvent.change(screen.getByLabelText("The same again"), { target: { value: "seven grey heron" } });
    expect(screen.getByRole("alert").textContent).toBe("The two are not the same.");
    fireEvent.change(screen.getByLabelText("The same again"), { target: { value: "seven grey herons" } });
    fireEvent.click(screen.getByRole("button", { name: "Set the password" }));
    expect(await screen.findByRole("heading", { name: "Your password is set" })).toBeTruthy();
    expect(posts(sent)).toEqual([{ call: "POST /api/links/tok/password", body: { password: "seven grey herons" } }]);
  });
});

describe("putting a site away", () => {
  const folio = {
    line: {
      id: 7,
      title: "Licensing news",
      address: "slipway.example/news",
      host: "Slipway",
      unit: null,
      lastEdit: null,
      findings: [],
    },
    kind: "pages",
    lastVisit: null,
    keyHolders: [{ person: vane, isFit: true, isGone: false, note: "", through: null }],
    orders: [],
    holds: [],
    existence: "here",
  };
  const loss = {
    pages: 2,
    bytes: 2_100_000,
    domains: [],
    group: null,
    opened: [],
    visits: 18,
    lookAlikes: [],
    keptThrough: "2099-01-09",
    keptBecause: "the house keeps put-away sites 60 days",
    hostKeepsThrough: null,
  };
  const at = (preview: unknown, answers = {}, role = "owner") =>
    openAt(
      "/sites/7/put-away",
      {
        "GET /api/sites/7": folio,
        "GET /api/sites/7/stay": null,
        "POST /api/sites/7/put-away/plan": preview,
        ...answers,
      },
      { role },
    );

  it("wants the name typed as it stands, and says until when it can be stopped", async () => {
    const sent = await at(
      { plan: { ...plan, loss, sure: "type-the-name", stopMinutes: 60 }, refused: [] },
      { "POST /api/sites/7/put-away": { ...done, offer: null } },
    );
    const put = await screen.findByRole("button", { name: "Put it away in an hour" });
    expect(put).toHaveProperty("disabled", true);
    fireEvent.change(screen.getByLabelText("The site's name"), { target: { value: "licensing news" } });
    expect(put).toHaveProperty("disabled", true);
    fireEvent.change(screen.getByLabelText("The site's name"), { target: { value: "Licensing news" } });
    fireEvent.click(put);
    await waitFor(() =>
      expect(sent.find((one) => one.call === "POST /api/sites/7/put-away")?.body).toEqual({
        typed: "Licensing news",
        fingerprint: "seen",
        reason: null,
      }),
    );
    expect(screen.queryByRole("button", { name: "Hold …" })).toBeNull();
  });

  it("asks nothing of who puts a small site away that was never live", async () => {
    await at({ plan: { ...plan, loss }, refused: [] }, {}, "administrator");
    expect(await screen.findByRole("button", { name: "Put it away" })).toHaveProperty("disabled", false);
    expect(screen.queryByLabelText("The site's name")).toBeNull();
    expect(
      screen.getByText(/It can be brought back through 9 Jan 2099: the house keeps put-away sites 60 days\./),
    ).toBeTruthy();
    expect(screen.getByRole("button", { name: "Hold …" })).toBeTruthy();
  });

  it("shows what blocks it, and no button", async () => {
    await at({ plan: null, refused: ["A hold forbids it.", "Renata Quist is editing it now."] });
    expect(await screen.findByText("Renata Quist is editing it now.")).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Put it away|Ask a second/ })).toBeNull();
  });

  it("waits for a second person where it reaches everybody", async () => {
    await at({
      plan: { ...plan, loss, sure: "second-person", needsSecond: "All of the staff can read it." },
      refused: [],
    });
    expect(await screen.findByText("All of the staff can read it.")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Ask a second person" })).toBeTruthy();
  });
});

describe("keys", () => {
  const line = {
    site: 7,
    title: "Night pilots",
    address: null,
    unit: null,
    state: "none",
    reasons: ["leaving"],
    daysLeft: 6,
    lastDay: "2099-12-01",
    sure: true,
    holders: [{ person: vane, isFit: false, isGone: false, note: "leaves on 1 Dec", through: null }],
    asked: null,
  };
  const keys = {
    lines: [line, { ...line, site: 8, title: "Yard", state: "single", daysLeft: null, holders: [] }],
    none: 1,
    single: 1,
    fit: 4,
    whole: 6,
  };

  it("says how many days are left, why nobody is fit, and narrows by the sentence", async () => {
    await openAt("/keys", { "GET /api/keys": keys });
    expect(await screen.findByText(/1 without a fit owner, 1 with one, 4 with two or more, of 6 sites/)).toBeTruthy();
    expect(screen.getByText("not fit: leaving")).toBeTruthy();
    expect(screen.getByRole("link", { name: "Give the key …" }).getAttribute("href")).toBe("/sites/8/hand-over");
    fireEvent.change(screen.getByLabelText("Which ownership"), { target: { value: "none" } });
    await waitFor(() => expect(screen.queryByText("Yard")).toBeNull());
  });

  it("shows one person's keys by link", async () => {
    await openAt("/keys?person=3", { "GET /api/keys": keys });
    expect(await screen.findByText("Night pilots")).toBeTruthy();
    expect(screen.queryByText("Yard")).toBeNull();
  });
});
