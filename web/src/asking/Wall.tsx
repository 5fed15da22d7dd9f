/** A question on the wall: bare while it is open, then with the room's votes, then with its proof. */

import { useSuspenseQuery } from "@tanstack/react-query";
import { type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import { cycleQuery } from "../api/queries";
import { sentence } from "../app/feedback";
import { degrees } from "../app/lengths";
import { usePageKeys } from "../app/usePageKeys";
import { useShopRoom } from "../app/useShopRoom";
import { counted } from "../app/words";
import { CrankWheel } from "../bench/CrankWheel";
import { Crank } from "../bench/crank";
import { Valves } from "../bench/Valves";
import { ColleaguesSheet } from "../marks/ColleaguesSheet";
import { AskAgain } from "./AskAgain";
import { Proof } from "./Proof";
import { turnTo } from "./turnTo";
import { useSecondsLeft } from "./useEnd";
import type { useWall, WallQuestion } from "./useWall";
import { Votes } from "./Votes";

type WallState = ReturnType<typeof useWall>;
type Props = {
  wall: WallState;
  question: WallQuestion;
  classId: number;
  /** Within a lesson, which has the clicker and the board itself. */
  isHeld?: boolean;
};

export function Wall({ wall, question, classId, isHeld = false }: Props) {
  const { data: table } = useSuspenseQuery(cycleQuery(question.engine_id, question.version));
  const crank = useMemo(() => new Crank(question.crank_deg), [question.crank_deg]);
  const { board, toggleBoard } = useShopRoom();
  const [isAsking, setAsking] = useState(false);
  const isProved = question.proof !== null;
  const shownDeg = question.proof?.shows?.crank_deg ?? null;
  const turnAgain = useShownByTurning(crank, question);
  // A lesson by a clicker: Page Down takes the question further; letters for the rest.
  usePageKeys({
    ...(!isHeld && { pagedown: wall.next, b: toggleBoard }),
    c: () => wall.to("close"),
    s: () => wall.to("spread"),
    p: () => wall.to("proof"),
    a: () => setAsking(true),
    t: turnAgain,
  });
  const { spread } = question;
  return (
    <>
      <Head question={question} />
      <ColleaguesSheet
        // Proved, the line that is wrong stands beside the engine that shows it.
        lines={question.sheet.filter(
          ({ valve }) => !isProved || question.proof?.answer[0]?.startsWith(`${valve}:`),
        )}
      />
      {/* What is wrong on a sheet is seen on the engine, once it is proved. */}
      {(question.drawn || (isProved && question.sheet.length > 0)) && (
        <div className="wall-drawing">
          <CrankWheel table={table} crank={crank} strokeHidden={!isProved} marksAlike={!isProved} />
          <Valves
            board={board}
            table={table}
            crank={crank}
            unit="mm"
            bare={!isProved}
            labelsDeg={shownDeg === null ? undefined : question.crank_deg}
            below={
              spread && question.options.some((option) => option.valve !== null)
                ? (valve) => <VotesBelow question={question} valve={valve} />
                : undefined
            }
          />
          {shownDeg !== null && shownDeg !== question.crank_deg && (
            <p className="soft labels-at">
              The drawing turns to {degrees(shownDeg)} to show why. The labels below the valves are
              for {degrees(question.crank_deg)}, where the question was asked.
            </p>
          )}
        </div>
      )}
      <div className={question.several ? "wall-told few" : "wall-told"}>
        <Votes question={question} />
        {question.proof && <Proof proof={question.proof} />}
      </div>
      <Ways wall={wall} question={question} board={board} onBoard={toggleBoard}>
        {question.proof?.shows?.crank_deg != null && (
          <button type="button" className="button" onClick={turnAgain}>
            Turn it again <kbd>T</kbd>
          </button>
        )}
        <button type="button" className="button" onClick={() => setAsking(true)}>
          Ask another <kbd>A</kbd>
        </button>
        <Link
          className="button"
          to={`/bench/${question.engine_id}?version=${question.version}&at=${question.crank_deg}`}
        >
          Bench
        </Link>
        <Link className="button" to={`/classes/${classId}/today`}>
          Today
        </Link>
      </Ways>
      {wall.error !== null && (
        <p className="notice" role="alert">
          {sentence(wall.error)}
        </p>
      )}
      <AskAgain
        open={isAsking}
        ask={wall.ask}
        at={{ engine_id: question.engine_id, version: question.version, deg: question.crank_deg }}
        onClose={() => setAsking(false)}
      />
    </>
  );
}

function Head({ question }: { question: WallQuestion }) {
  const left = useSecondsLeft(question);
  const isOpen = question.state === "open" && left !== 0;
  return (
    <header className="wall-head">
      <div>
        <p className="soft">{question.engine_name}</p>
        <h1>{question.asks}</h1>
      </div>
      <p className="wall-count" role="status">
        <b className="figures">{question.answered}</b> of {question.present} answered
        <span>{isOpen ? leftWords(left) : "closed"}</span>
      </p>
    </header>
  );
}

function leftWords(left: number | null): string {
  return left === null ? "open" : `${left} s left`;
}

function VotesBelow({ question, valve }: { question: WallQuestion; valve: number }) {
  const votes = question.spread?.votes[String(valve)];
  if (votes === undefined) return null;
  const isRight = question.proof?.answer.includes(String(valve));
  return (
    <span className="votes-below">
      <b className="figures">{votes}</b>
      <span className="visually-hidden">{counted(votes, "vote")}</span>
      {isRight && <span className="is-right">✓</span>}
    </span>
  );
}

type WaysProps = Pick<Props, "wall" | "question"> & {
  board: boolean;
  onBoard: () => void;
  children: ReactNode;
};

function Ways({ wall, question, board, onBoard, children }: WaysProps) {
  const { state } = question;
  return (
    <footer className="wall-ways">
      {state === "open" && (
        <button type="button" className="button" onClick={() => wall.to("close")}>
          Close <kbd>C</kbd>
        </button>
      )}
      {(state === "open" || state === "closed") && (
        <button type="button" className="button main" onClick={() => wall.to("spread")}>
          What the room thinks <kbd>Page Down</kbd>
        </button>
      )}
      {state === "spread" && (
        <button type="button" className="button main" onClick={() => wall.to("proof")}>
          The proof <kbd>Page Down</kbd>
        </button>
      )}
      {state === "proof" && (
        <button type="button" className="button main" onClick={() => wall.to("end")}>
          Done <kbd>Page Down</kbd>
        </button>
      )}
      {children}
      <span className="grow" />
      <button type="button" className="button" aria-pressed={board} onClick={onBoard}>
        Large and dark <kbd>B</kbd>
      </button>
    </footer>
  );
}

/** With the proof the crank turns to where the commonest wrong choice is seen to be wrong. */
function useShownByTurning(crank: Crank, question: WallQuestion): () => void {
  const at = question.proof?.shows?.crank_deg ?? null;
  const from = question.crank_deg;
  const stop = useRef(() => {});
  const turn = useCallback(() => {
    stop.current();
    crank.set(from);
    if (at !== null) stop.current = turnTo(crank, from, at);
  }, [crank, from, at]);
  useEffect(() => {
    if (at !== null) turn();
    return () => stop.current();
  }, [at, turn]);
  return turn;
}
