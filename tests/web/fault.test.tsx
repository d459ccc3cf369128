import { screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { showWithLinks } from "./open";

describe("a site that cannot be computed", () => {
  it("says so in the details, and offers no action", async () => {
    const { Notes } = await import("../../web/src/details/DetailsPanel");
    const sitePage = {
      line: { id: 7, fault: "The row's plan is a number.", findings: [] },
      accessPaths: [],
      findings: [],
      hostChanges: [],
      mayAct: true,
      existence: "in-use",
    } as unknown as Schema["SitePage"];
    showWithLinks(<Notes sitePage={sitePage} />);
    expect((await screen.findByRole("alert")).textContent).toContain("The row's plan is a number.");
    expect(screen.queryByText("This site breaks no rule.")).toBeNull();
    expect(screen.queryByText(/Moved to the attic/)).toBeNull();
  });
});
