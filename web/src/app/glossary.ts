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
