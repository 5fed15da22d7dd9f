/** What is asked, and for how long: shared by the Bench, the wall and the page before it. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { questionKindsQuery } from "../api/now";
import { Choice } from "../app/Choice";

export type Wished = { kind: string; seconds: number | null };

const TIMES = [
  { value: 0, label: "Until I close it" },
  { value: 20, label: "20 s" },
  { value: 40, label: "40 s" },
  { value: 90, label: "90 s" },
];

type Props = { wished: Wished; onWish: (wished: Wished) => void };

export function AskFields({ wished, onWish }: Props) {
  const { data: kinds } = useSuspenseQuery(questionKindsQuery);
  return (
    <>
      <label className="ask-kind">
        Question
        <select
          className="field"
          value={wished.kind}
          onChange={(event) => onWish({ ...wished, kind: event.target.value })}
        >
          {kinds.map((kind) => (
            <option key={kind.id} value={kind.id}>
              {kind.title}
            </option>
          ))}
        </select>
      </label>
      <Choice
        label="Time to answer"
        options={TIMES}
        value={wished.seconds ?? 0}
        onChoose={(seconds) => onWish({ ...wished, seconds: seconds || null })}
      />
    </>
  );
}
