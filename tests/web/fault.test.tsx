import { screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Wire } from "../../web/src/api/client";
import { show } from "./open";

vi.mock("@tanstack/react-router", () => ({
  Link: ({ children }: { children: React.ReactNode }) => <a href="#site">{children}</a>,
}));

describe("a site that cannot be computed", () => {
  it("says so in the place of its notes, and offers nothing to be done", async () => {
    const { Notes } = await import("../../web/src/margin/Margin");
    const folio = {
      line: { id: 7, fault: "The row's plan is a number.", findings: [] },
      passages: [],
      findings: [],
      orders: [],
      mayAct: true,
      existence: "here",
    } as unknown as Wire["FolioWire"];
    show(<Notes folio={folio} />);
    expect((await screen.findByRole("alert")).textContent).toContain("The row's plan is a number.");
    expect(screen.queryByText("No house rule is broken here.")).toBeNull();
    expect(screen.queryByText(/Put away/)).toBeNull();
  });
});
