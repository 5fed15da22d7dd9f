/** Asks the browser to keep the application on this device, so that it opens without a network. */

/** What the page itself needs comes first; the browser is asked when that is here. */
const AFTER_MS = 3000;

/** Whether pages may be kept at all: browsers do so over https only, and on their own machine. */
export function canBeKept(): boolean {
  return "serviceWorker" in navigator;
}

export function keepTheApplication() {
  if (!canBeKept()) return;
  window.addEventListener("load", () => {
    // Refused where the certificate is not trusted: then everything goes on as over plain http.
    setTimeout(() => navigator.serviceWorker.register("/sw.js").catch(() => undefined), AFTER_MS);
  });
}
