/**
 * Beside every page of a student: sends the hand-ins that wait on this device, and says what became
 * of each, wherever the student is by then.
 */
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { sheetQuery, workQuery } from "../api/queries";
import { SIGNED_IN, usePerson } from "../app/session";
import { forget, keepPressed, keptHere, placeOf } from "./kept";
import { type Outcome, sendPressed } from "./sending";
import { usePressed } from "./usePressed";
import "./sheets.css";

const TRY_MS = 5000;

type Became = { sheetId: number; title: string; says: string; way: string };

export default function WaitingHandIns() {
  const person = usePerson();
  const waiting = usePressed(person.id);
  const [told, setTold] = useState<readonly Became[]>([]);
  const send = useSendAll(person.id, waiting, (one) =>
    setTold((before) => [...before.filter(({ sheetId }) => sheetId !== one.sheetId), one]),
  );
  useEffect(() => {
    if (waiting.length === 0) return;
    const timer = setInterval(send, TRY_MS);
    window.addEventListener("online", send);
    window.addEventListener(SIGNED_IN, send);
    // A page that was closed meanwhile goes on at once.
    send();
    return () => {
      clearInterval(timer);
      window.removeEventListener("online", send);
      window.removeEventListener(SIGNED_IN, send);
    };
  }, [waiting, send]);
  const drop = (one: Became) => setTold(told.filter((other) => other !== one));
  return (
    <>
      {told.map((one) => (
        <div key={one.sheetId} className="notice calm handed-in-later" role="status">
          <p>
            <b>{one.title}</b>: {one.says}
          </p>
          <p className="ways">
            <Link className="button" to={`/sheet/${one.sheetId}`} onClick={() => drop(one)}>
              {one.way}
            </Link>
            <button type="button" className="button" onClick={() => drop(one)}>
              Noted
            </button>
          </p>
        </div>
      ))}
    </>
  );
}

/** One round through all that wait, one round at a time. */
function useSendAll(
  personId: number,
  waiting: readonly number[],
  onBecame: (one: Became) => void,
): () => Promise<void> {
  const queries = useQueryClient();
  const isSending = useRef(false);
  const tell = useRef(onBecame);
  tell.current = onBecame;
  return useCallback(async () => {
    if (isSending.current) return;
    isSending.current = true;
    try {
      for (const sheetId of waiting) {
        const place = placeOf(personId, sheetId);
        const { pressed, requestKey } = keptHere(place);
        const outcome = await sendPressed(personId, sheetId);
        // Taken back while it was on its way: then nothing is said of it.
        if (outcome.became === "waits" || !pressed) continue;
        keepPressed(place, requestKey, null);
        queries.invalidateQueries(workQuery);
        const now = await queries
          .fetchQuery({ ...sheetQuery(sheetId), staleTime: 0 })
          .catch(() => null);
        // Handed in, here or elsewhere: nothing of it is written any more.
        if (outcome.became === "handed in" || now?.result) forget(place);
        tell.current({ sheetId, title: pressed.title, ...words(outcome) });
      }
    } finally {
      isSending.current = false;
    }
  }, [personId, waiting, queries]);
}

const TO_SHEET = "To the sheet";

function words(outcome: Outcome): { says: string; way: string } {
  if (outcome.became === "handed in") return { says: "handed in now.", way: "See your marks" };
  if (outcome.became === "refused") {
    return { says: `not handed in by this device. ${outcome.says}`, way: TO_SHEET };
  }
  if (outcome.became === "clash") {
    const says = "not handed in yet: another device wrote something else. Choose, then hand in.";
    return { says, way: TO_SHEET };
  }
  return { says: "not handed in yet: something is asked first.", way: TO_SHEET };
}
