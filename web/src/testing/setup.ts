/** What jsdom lacks: modal dialogs and sizes. */
import { cleanup, configure } from "@testing-library/react";
import { afterEach, beforeEach, vi } from "vitest";

// Several test files share two processors: what comes is waited for.
configure({ asyncUtilTimeout: 5000 });

HTMLDialogElement.prototype.showModal = function showModal() {
  this.open = true;
};
HTMLDialogElement.prototype.close = function close() {
  this.open = false;
};
globalThis.ResizeObserver = class {
  observe() {}
  unobserve() {}
  disconnect() {}
};
window.scrollTo = () => {};
window.matchMedia = (query) =>
  ({
    matches: false,
    media: query,
    addEventListener() {},
    removeEventListener() {},
    addListener() {},
    removeListener() {},
  }) as unknown as MediaQueryList;

beforeEach(() => localStorage.clear());
afterEach(async () => {
  cleanup();
  // What a page sends when it is left goes to the server of its own test.
  await new Promise((resolve) => setTimeout(resolve, 20));
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

/**
 * jsdom works a computed style out from every rule of the page, antd's thousands too: seconds for
 * each question by role. No test asks what a style sheet says, so the element's own style will do.
 */
window.getComputedStyle = (element) => (element as HTMLElement).style;
