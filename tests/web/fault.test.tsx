import { screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Schema } from "../../web/src/api/client";
import { show } from "./open";

vi.mock("@tanstack/react-router", () => ({
  Link: ({ children }: { children: React.ReactNode }) => <a href="#site">{children}</a>,
}));

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
    show(<Notes sitePage={sitePage} />);
    expect((await screen.findByRole("alert")).textContent).toContain("The row's plan is a number.");
    expect(screen.queryByText("This site breaks no rule.")).toBeNull();
    expect(screen.queryByText(/Moved to the attic/)).toBeNull();
  });
});
