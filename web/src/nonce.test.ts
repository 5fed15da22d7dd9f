/** What a script makes gets the nonce if it is a style element, and nothing else does. */
import { afterEach, expect, it } from "vitest";
import { giveStylesTheNonce, pageNonce } from "./nonce";

const real = document.createElement;
afterEach(() => {
  document.createElement = real;
});

it("gives the nonce to style elements, whoever makes them", () => {
  giveStylesTheNonce("n-1");
  expect(document.createElement("style").nonce).toBe("n-1");
  expect(document.createElement("STYLE").nonce).toBe("n-1");
});

it("leaves every other element alone", () => {
  giveStylesTheNonce("n-1");
  const made = document.createElement("div");
  expect(made.nonce ?? "").toBe("");
  expect(made.outerHTML).toBe("<div></div>");
});

it("reads the nonce that the server put into the page", () => {
  expect(pageNonce()).toBe("");
  const meta = document.createElement("meta");
  meta.name = "csp-nonce";
  meta.content = "from-the-server";
  document.head.append(meta);
  expect(pageNonce()).toBe("from-the-server");
  meta.remove();
});
