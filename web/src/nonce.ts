/**
 * Every style element that a script makes gets the page's nonce.
 *
 * The content security policy lets in only style elements that carry it. Ant Design gives it to
 * its own; two places of its base library (the measure of scroll bars, the lock of scrolling behind
 * a dialog) make theirs without. So the one way in which scripts make elements is wrapped, once,
 * before anything else runs.
 */

export function pageNonce(): string {
  return document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? "";
}

export function giveStylesTheNonce(nonce: string) {
  const make = document.createElement.bind(document);
  document.createElement = ((tag: string, options?: ElementCreationOptions) => {
    const element = make(tag, options);
    if (element instanceof HTMLStyleElement) element.nonce = nonce;
    return element;
  }) as typeof document.createElement;
}
