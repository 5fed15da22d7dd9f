/** How the room answered, option by option, as bars; what is right once it is proved. */
import { counted } from "../app/words";
import type { WallQuestion } from "./useWall";

export function Votes({ question }: { question: WallQuestion }) {
  const { spread, proof } = question;
  // Votes for valves stand below the valves themselves.
  const shown = question.options.filter((option) => option.valve === null || !question.drawn);
  if (shown.length === 0) return null;
  const most = Math.max(1, question.answered);
  return (
    <ul className="votes">
      {shown.map((option) => {
        const votes = spread?.votes[option.id];
        return (
          <li key={option.id} data-right={proof?.answer.includes(option.id) ?? undefined}>
            <span className="votes-says">{option.says}</span>
            {votes !== undefined && (
              <>
                <span className="votes-bar" aria-hidden="true">
                  <i style={{ width: `${(votes / most) * 100}%` }} />
                </span>
                <b className="figures">{votes}</b>
                <span className="visually-hidden">{counted(votes, "vote")}</span>
              </>
            )}
            {proof?.answer.includes(option.id) && <span className="is-right">✓ right</span>}
          </li>
        );
      })}
    </ul>
  );
}
