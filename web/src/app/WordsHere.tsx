/** Words of the trade that stand where nothing can be tapped (labels, boxes to tick): in a line below. */
import { partsOf, termOf } from "./glossary";
import { Words } from "./Words";

export function WordsHere({ texts }: { texts: readonly string[] }) {
  const found = new Set(
    texts.flatMap((text) => partsOf(text).flatMap((part) => termOf(part)?.word ?? [])),
  );
  if (found.size === 0) return null;
  return (
    <p className="words-here soft">
      Words here: <Words text={[...found].join(", ")} />
    </p>
  );
}
