import { cleanup, configure } from "@testing-library/react";
import { afterEach, vi } from "vitest";

// What a test waits for may take long on a machine that is short of a core; a test fails by what it sees, not by the time.
configure({ asyncUtilTimeout: 30_000 });

// jsdom has no layout, so it cannot scroll anything into view.
if (typeof Element !== "undefined") {
  Element.prototype.scrollIntoView = () => undefined;
  window.scrollTo = () => undefined;
}

// jsdom has no layout, so nothing would be on the screen: here all rows are.
vi.mock("@tanstack/react-virtual", () => ({
  useVirtualizer: ({ count, estimateSize }: { count: number; estimateSize: () => number }) => ({
    getVirtualItems: () =>
      Array.from({ length: count }, (_, index) => ({ key: index, index, start: index * estimateSize() })),
    getTotalSize: () => count * estimateSize(),
    scrollToIndex: () => undefined,
  }),
}));

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
