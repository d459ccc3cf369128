import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { useState } from "react";
import { done, plan, posts, remark } from "./fixtures";
import { answering, Problem, show, showWithLinks, type Answers } from "./open";

const account = "account" as const;
const policy: Schema["Limits"] = {
  view: { inside: "staff", outside: "no-one", visitorSignIn: account },
  preview: { inside: "staff", outside: "no-one", visitorSignIn: account },
  edit: { inside: "named", outside: "no-one", visitorSignIn: account },
};
const path = "POST /api/sites/12/restrict";
const effect = { ...plan, sideEffects: ["A mail goes to its owners."] };

async function open(answers: Answers, remedy: Schema["Limits"] | null = policy) {
  const sent = answering({ [`${path}/plan`]: { plan: effect, refused: [] }, ...answers });
  const { RestrictForm } = await import("../../web/src/details/RestrictForm");
  // The form reads the site's id and remedy, and nothing else of the page.
  show(<RestrictForm sitePage={{ line: { id: 12 }, remedy } as Schema["SitePage"]} onUse={() => undefined} />);
  return sent;
}

const press = () => screen.findByRole("button", { name: "Restrict" }).then((button) => fireEvent.click(button));

describe("restricting a site", () => {
  it("shows the effect of the proposal, then sends exactly what was shown", async () => {
    const sent = await open({ [path]: done });
    expect(await screen.findByText("A mail goes to its owners.")).toBeTruthy();
    fireEvent.change(screen.getByLabelText("Reason, for the journal"), { target: { value: "Not for strangers" } });
    await press();
    await waitFor(() =>
      expect(posts(sent).filter(({ call }) => call === path)).toEqual([
        { call: path, body: { target: policy, reason: "Not for strangers", fingerprint: "seen" } },
      ]),
    );
    await waitFor(() => expect(screen.getByLabelText("Reason, for the journal")).toHaveProperty("value", ""));
  });

  it("plans again for each adjustment, and goes back to the proposal", async () => {
    const sent = await open({});
    fireEvent.click(await screen.findByRole("button", { name: "Adjust …" }));
    fireEvent.change(screen.getByLabelText("View the published site: inside"), { target: { value: "unit" } });
    const adjusted = { ...policy, view: { ...policy.view, inside: "unit" } };
    await waitFor(() => expect(posts(sent).at(-1)?.body).toEqual({ target: adjusted, reason: null }));
    fireEvent.click(screen.getByRole("button", { name: "Back to the proposal" }));
    expect(screen.queryByLabelText("View the published site: inside")).toBeNull();
  });

  it("says that something has changed, and keeps what was typed", async () => {
    await open({ [path]: new Problem(409, { ...effect, fingerprint: "another" }) });
    await screen.findByText("A mail goes to its owners.");
    fireEvent.change(screen.getByLabelText("Reason, for the journal"), { target: { value: "Not for strangers" } });
    await press();
    expect((await screen.findByRole("alert")).textContent).toContain("Something has changed since you looked");
    expect(screen.getByLabelText("Reason, for the journal")).toHaveProperty("value", "Not for strangers");
  });

  it("shows every reason of a refusal, and has no button for what cannot be done", async () => {
    await open({
      [`${path}/plan`]: {
        plan: null,
        refused: [remark("A change is under way."), remark("The site is in the attic.")],
      },
    });
    expect(await screen.findByText("A change is under way.")).toBeTruthy();
    expect(screen.getByText("The site is in the attic.")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Restrict" })).toBeNull();
  });

  it("lets a person choose where a limit is not known", async () => {
    await open({}, null);
    expect(screen.getByText(/^A limit is not known/)).toBeTruthy();
    expect(screen.getByLabelText("Edit: inside")).toHaveProperty("value", "named");
    expect(screen.queryByRole("button", { name: "Back to the proposal" })).toBeNull();
  });

  it("stays with what was typed when somebody else has made the site narrow meanwhile", async () => {
    answering({ [`${path}/plan`]: { plan: effect, refused: [] } });
    const { Notes } = await import("../../web/src/details/DetailsPanel");
    const page = (accessPaths: unknown[]) =>
      ({
        line: { id: 12, findings: [] },
        remedy: policy,
        accessPaths,
        findings: [],
        hostChanges: [],
        mayAct: true,
        existence: "in-use",
      }) as unknown as Schema["SitePage"];
    const Watched = () => {
      const [isNarrow, setNarrow] = useState(false);
      return (
        <>
          <button
            onClick={() => {
              setNarrow(!isNarrow);
            }}
          >
            Somebody else
          </button>
          <Notes sitePage={page(isNarrow ? [] : [{ power: "view", exceeds: "yes" }])} arithmetic={false} />
        </>
      );
    };
    showWithLinks(<Watched />);
    const reason = () => screen.getByLabelText("Reason, for the journal");
    const others = await screen.findByRole("button", { name: "Somebody else" });
    await screen.findByText("A mail goes to its owners.");

    fireEvent.click(others);
    expect(screen.queryByLabelText("Reason, for the journal")).toBeNull();
    fireEvent.click(others);
    await screen.findByText("A mail goes to its owners.");
    fireEvent.change(reason(), { target: { value: "Not for strangers" } });
    fireEvent.click(others);
    expect(reason()).toHaveProperty("value", "Not for strangers");
  });
});
