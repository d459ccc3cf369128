import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Wire } from "../../web/src/api/client";
import { answering, show, type Answers } from "./open";

const broken: Wire["ExplainedWire"] = {
  finding: { rule: "R-03", title: "Two keys", short: "few keys", level: "should", cannotTell: false, since: null },
  headline: "One fit key holder, of two wanted",
  detail: "",
  isExcused: false,
  excuses: [],
};
const excuse: Wire["ExcuseWire"] = {
  id: 5,
  reason: "The yard moves",
  by: { id: 1, name: "Nora Bell", mail: "n.bell@merrowby.example", isOutside: false },
  from: "2026-11-26T08:00:00Z",
  through: "2026-12-31",
  covers: true,
};
const path = "POST /api/sites/4/excuse";
const planned = { fingerprint: "fp", along: ["Through 31 Dec 2026 the site may stand as it does."] };

async function open(explained: Wire["ExplainedWire"], answers: Answers, mayExcuse = true) {
  const sent = answering(answers);
  const { Excuses } = await import("../../web/src/margin/Excuses");
  show(<Excuses site={4} explained={explained} mayExcuse={mayExcuse} />);
  return sent;
}

function fill(label: RegExp, value: string) {
  fireEvent.change(screen.getByLabelText(label), { target: { value } });
}

describe("an excuse from a rule", () => {
  it("is given with a reason through a day, after it is said what it covers", async () => {
    const sent = await open(broken, { [`${path}/plan`]: { plan: planned, refused: [] }, [path]: { place: 9 } });
    fireEvent.click(screen.getByRole("button", { name: "Excuse it … (R-03)" }));
    const give = screen.getByRole("button", { name: "Excuse it" });
    expect(give).toHaveProperty("disabled", true);
    fill(/^Why it may break R-03/, "The yard moves");
    expect(sent).toHaveLength(0);
    fill(/^Through/, "2026-12-31");
    expect(await screen.findByText("Through 31 Dec 2026 the site may stand as it does.")).toBeTruthy();
    fireEvent.click(give);
    await waitFor(() =>
      expect(sent.find(({ call }) => call === path)?.body).toEqual({
        rule: "R-03",
        reason: "The yard moves",
        through: "2026-12-31",
        fingerprint: "fp",
      }),
    );
  });

  it("says why it cannot be given, and is not given then", async () => {
    await open(broken, { [`${path}/plan`]: { plan: null, refused: ["An excuse ends within 366 days."] } });
    fireEvent.click(screen.getByRole("button", { name: "Excuse it … (R-03)" }));
    fill(/^Why it may break R-03/, "For good");
    fill(/^Through/, "2036-12-31");
    expect(await screen.findByText("An excuse ends within 366 days.")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Excuse it" })).toHaveProperty("disabled", true);
  });

  it("is shown with its reason and ended with another", async () => {
    const end = "POST /api/sites/4/excuses/5/end";
    const sent = await open({ ...broken, isExcused: true, excuses: [excuse] }, { [end]: { place: 10 } });
    expect(screen.getByText(/^Excused through 31 Dec/).textContent).toContain("by Nora Bell: The yard moves");
    expect(screen.queryByRole("button", { name: "Excuse it … (R-03)" })).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "End the excuse …" }));
    fill(/^Why it ends now/, "Moved");
    fireEvent.click(screen.getByRole("button", { name: "End the excuse" }));
    await waitFor(() => expect(sent.find(({ call }) => call === end)?.body).toEqual({ reason: "Moved" }));
  });

  it("says where it no longer counts, and another can be given", async () => {
    await open({ ...broken, excuses: [{ ...excuse, covers: false }] }, {});
    expect(screen.getByText(/It no longer counts/)).toBeTruthy();
    expect(screen.getByRole("button", { name: "Excuse it … (R-03)" })).toBeTruthy();
  });

  it("is only seen by whoever may not give it, and not given for what cannot be told", async () => {
    await open({ ...broken, excuses: [excuse] }, {}, false);
    expect(screen.queryAllByRole("button")).toHaveLength(0);
    await open({ ...broken, finding: { ...broken.finding, cannotTell: true } }, {});
    expect(screen.queryAllByRole("button")).toHaveLength(0);
  });
});
