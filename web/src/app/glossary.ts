/** The words of the trade as the core lists them, and how they are found in a text. */
import terms from "../api/glossary.json";

export type Term = (typeof terms)[number];
export const TERMS: readonly Term[] = terms;

const TERM_OF = new Map(
  terms.flatMap((term) => [term.word, ...term.forms].map((form) => [form.toLowerCase(), term])),
);
/** Every form, the longest first. */
const FINDER = new RegExp(
  `\\b(${[...TERM_OF.keys()]
    .sort((one, other) => other.length - one.length)
    .map((form) => form.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"))
    .join("|")})\\b`,
  "gi",
);

export function termOf(part: string): Term | undefined {
  return TERM_OF.get(part.toLowerCase());
}

/** The text cut at its words; joined again it is the same. */
export function partsOf(text: string): string[] {
  return text.split(FINDER).filter((part) => part !== "");
}

/** A word that can be tapped, with what touches it, as in "(heel)," which stays in one line. */
export type Tappable = { term: Term; before: string; word: string; after: string };

/**
 * The text as plain pieces and words that can be tapped; joined again it is the same. A word is
 * tapped where it stands first: a line of dots under every other word cannot be read.
 */
export function piecesOf(text: string): (string | Tappable)[] {
  const pieces: (string | Tappable)[] = [];
  const seen = new Set<Term>();
  let rest = "";
  const parts = partsOf(text);
  parts.forEach((part, at) => {
    const term = termOf(part);
    if (term === undefined || seen.has(term)) {
      pieces.push(part.slice(rest.length));
      rest = "";
      return;
    }
    seen.add(term);
    rest = touching(parts[at + 1]);
    pieces.push({ term, before: takeEnd(pieces), word: part, after: rest });
  });
  return pieces.filter((piece) => piece !== "");
}

/** What of the next part, if that is plain text, stands without a space after a word. */
function touching(next: string | undefined): string {
  return next === undefined || termOf(next) ? "" : (/^\S+/.exec(next)?.[0] ?? "");
}

/** Takes off the last piece what stands without a space before a word. */
function takeEnd(pieces: (string | Tappable)[]): string {
  const last = pieces.at(-1);
  if (typeof last !== "string") return "";
  const end = /\S+$/.exec(last)?.[0] ?? "";
  pieces[pieces.length - 1] = last.slice(0, last.length - end.length);
  return end;
}
