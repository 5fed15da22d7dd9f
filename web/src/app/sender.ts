/**
 * Sends what a person did, and sends it again by itself where it could not go: after a while, when
 * the network is back, when the page is looked at again, and when somebody has signed in again.
 */
import { useEffect, useRef, useState } from "react";
import { isAway } from "../api/again";
import { SIGNED_IN } from "./session";

export type Sending = "saved" | "saving" | "waiting" | "refused";

const PAUSE_MS = 700;
/** From then on what is under way is said to wait for the network. */
const SLOW_MS = 1000;
/** How long is waited before each try that follows one which failed. */
const RETRY_MS = [2000, 4000, 8000, 15_000, 30_000];

/** One at a time; again by itself where it failed, on a better network, and at coming back. */
export function useSender(send: () => Promise<void>, onState: (state: Sending) => void) {
  const newest = useRef(send);
  newest.current = send;
  const [sender] = useState(() => senderOf(() => newest.current(), onState));
  useEffect(() => {
    sender.enter();
    const again = () => sender.now();
    const back = () => document.visibilityState === "visible" && sender.now();
    window.addEventListener("online", again);
    window.addEventListener(SIGNED_IN, again);
    document.addEventListener("visibilitychange", back);
    return () => {
      window.removeEventListener("online", again);
      window.removeEventListener(SIGNED_IN, again);
      document.removeEventListener("visibilitychange", back);
      // What is not sent yet is sent when the page is left.
      sender.leave();
    };
  }, [sender]);
  return sender;
}

function senderOf(send: () => Promise<void>, onState: (state: Sending) => void) {
  let timer: ReturnType<typeof setTimeout> | undefined;
  let isSending = false;
  let isWanted = false;
  let failures = 0;
  let isOver = false;
  let isLeft = false;

  async function now() {
    clearTimeout(timer);
    timer = undefined;
    isWanted = true;
    if (isSending || isOver) return;
    isSending = true;
    while (isWanted && !isOver) {
      isWanted = false;
      onState("saving");
      const slow = setTimeout(() => onState("waiting"), SLOW_MS);
      try {
        await send();
        failures = 0;
        if (!isWanted) onState("saved");
      } catch (error) {
        if (isAway(error) && !isLeft)
          later(RETRY_MS[Math.min(failures++, RETRY_MS.length - 1)] as number);
        onState(isAway(error) ? "waiting" : "refused");
      }
      clearTimeout(slow);
    }
    isSending = false;
  }
  function later(ms: number) {
    clearTimeout(timer);
    timer = setTimeout(now, ms);
  }
  return {
    now,
    soon() {
      onState("saving");
      later(PAUSE_MS);
    },
    enter() {
      isLeft = false;
    },
    leave() {
      isLeft = true;
      if (timer !== undefined) now();
    },
    stop() {
      clearTimeout(timer);
      isOver = true;
    },
  };
}
