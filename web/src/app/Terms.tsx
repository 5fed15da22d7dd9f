/** A text of the trade whose words can be tapped for their meaning, which then stands below it. */
import { Fragment, useState } from "react";

export type Term = { word: string; means: string };
type Props = { text: string; terms: readonly Term[]; className?: string };

export function Terms({ text, terms, className }: Props) {
  const [asked, setAsked] = useState<string | null>(null);
  const means = new Map(terms.map(({ word, means }) => [word.toLowerCase(), means]));
  const open = asked === null ? undefined : means.get(asked);
  return (
    <div className={className}>
      <p>
        {partsOf(text, terms).map((part, at) => {
          const word = part.toLowerCase();
          const key = `${at} ${part}`;
          return means.has(word) ? (
            <button
              key={key}
              type="button"
              className="term"
              aria-expanded={asked === word}
              onClick={() => setAsked(asked === word ? null : word)}
            >
              {part}
            </button>
          ) : (
            <Fragment key={key}>{part}</Fragment>
          );
        })}
      </p>
      <p className="term-means" role="status">
        {open !== undefined && (
          <>
            <b>{asked}</b>: {open}
          </>
        )}
      </p>
    </div>
  );
}

/** The text cut at its words, the longest first; joined again it is the same. */
export function partsOf(text: string, terms: readonly Term[]): string[] {
  if (terms.length === 0) return [text];
  const words = terms.map(({ word }) => word).sort((one, other) => other.length - one.length);
  const escaped = words.map((word) => word.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"));
  return text.split(new RegExp(`\\b(${escaped.join("|")})\\b`, "gi")).filter((part) => part !== "");
}
