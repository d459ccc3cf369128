import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { remark } from "./fixtures";
import { answering, show, type Answers } from "./open";

const broken: Schema["Explained"] = {
  finding: {
    rule: "R-03",
    title: "Two keys",
    short: "too few owners",
    level: "warning",
    cannotTell: false,
    since: null,
  },
  headline: "One active owner, of two wanted",
  detail: "",
  isExcepted: false,
  remedies: [],
  clears: false,
  left: [],
  exceptions: [],
  question: null,
};
const exception: Schema["ExceptionInForce"] = {
  id: 5,
  reason: "The yard moves",
  by: { id: 1, name: "Nora Bell", mail: "n.bell@merrowby.example", isOutside: false },
  from: "2026-11-26T08:00:00Z",
  through: "2026-12-31",
  isUntold: false,
  covers: true,
};
const path = "POST /api/sites/4/exceptions";
const planned = { fingerprint: "fp", sideEffects: ["Through 31 Dec 2026 the site may stand as it does."] };

async function open(explained: Schema["Explained"], answers: Answers, mayException = true) {
  const sent = answering(answers);
  const { Exceptions } = await import("../../web/src/details/Exceptions");
  show(<Exceptions site={4} explained={explained} mayException={mayException} />);
  return sent;
}

function fill(label: RegExp, value: string) {
  fireEvent.change(screen.getByLabelText(label), { target: { value } });
}

describe("an exception from a rule", () => {
  it("is granted with a reason and a last day, after its effect is shown", async () => {
    const sent = await open(broken, { [`${path}/plan`]: { plan: planned, refused: [] }, [path]: { place: 9 } });
    fireEvent.click(screen.getByRole("button", { name: "Grant an exception … (R-03)" }));
    const give = screen.getByRole("button", { name: "Grant the exception" });
    expect(give).toHaveProperty("disabled", true);
    fill(/^Reason why it may break R-03/, "The yard moves");
    expect(sent).toHaveLength(0);
    fill(/^Last day/, "2026-12-31");
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

  it("shows why it cannot be granted, and is not granted", async () => {
    await open(broken, { [`${path}/plan`]: { plan: null, refused: [remark("An exception lasts at most 366 days.")] } });
    fireEvent.click(screen.getByRole("button", { name: "Grant an exception … (R-03)" }));
    fill(/^Reason why it may break R-03/, "For good");
    fill(/^Last day/, "2036-12-31");
    expect(await screen.findByText("An exception lasts at most 366 days.")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Grant the exception" })).toHaveProperty("disabled", true);
  });

  it("is shown with its reason and ended with another reason", async () => {
    const end = "POST /api/sites/4/exceptions/5/end";
    const sent = await open({ ...broken, isExcepted: true, exceptions: [exception] }, { [end]: { place: 10 } });
    expect(screen.getByText(/^Exception until the end of 31 Dec/).textContent).toContain(
      "by Nora Bell: The yard moves",
    );
    expect(screen.queryByRole("button", { name: "Grant an exception … (R-03)" })).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "End the exception …" }));
    fill(/^Reason for ending it now/, "Moved");
    fireEvent.click(screen.getByRole("button", { name: "End the exception" }));
    await waitFor(() => expect(sent.find(({ call }) => call === end)?.body).toEqual({ reason: "Moved" }));
  });

  it("says that it no longer applies, and another can be granted", async () => {
    await open({ ...broken, exceptions: [{ ...exception, covers: false }] }, {});
    expect(screen.getByText(/It no longer applies/)).toBeTruthy();
    expect(screen.getByRole("button", { name: "Grant an exception … (R-03)" })).toBeTruthy();
  });

  it("is read-only for a person who may not grant it", async () => {
    await open({ ...broken, exceptions: [exception] }, {}, false);
    expect(screen.queryAllByRole("button")).toHaveLength(0);
  });

  it("is granted where a rule cannot tell, and says why it no longer applies once it can", async () => {
    await open({ ...broken, finding: { ...broken.finding, cannotTell: true } }, {});
    fireEvent.click(screen.getByRole("button", { name: "Grant an exception … (R-03)" }));
    expect(screen.getByLabelText("Reason why R-03 need not be able to tell")).toBeTruthy();
    await open({ ...broken, exceptions: [{ ...exception, isUntold: true, covers: false }] }, {});
    expect(screen.getByText("It no longer applies: it was granted because the rule could not tell.")).toBeTruthy();
  });
});
