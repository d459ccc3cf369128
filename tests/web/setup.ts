import { cleanup } from "@testing-library/react";
import { afterEach, vi } from "vitest";

// jsdom has no layout, so it cannot scroll anything into view.
if (typeof Element !== "undefined") {
  Element.prototype.scrollIntoView = () => undefined;
  window.scrollTo = () => undefined;
}

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
