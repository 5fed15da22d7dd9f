/** The time that is left of a timed run, told aloud at five minutes and at one. */
import { useEffect, useState } from "react";

const TOLD_S = [300, 60];

export function timeLeft(untilMs: number, nowMs: number): string {
  const seconds = Math.max(0, Math.ceil((untilMs - nowMs) / 1000));
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
}

export function Countdown({ until, onUp }: { until: string; onUp: () => void }) {
  const untilMs = Date.parse(until);
  const [nowMs, setNowMs] = useState(Date.now);
  const up = nowMs >= untilMs;
  useEffect(() => {
    if (up) return onUp();
    const beat = setInterval(() => setNowMs(Date.now()), 1000);
    return () => clearInterval(beat);
  }, [up, onUp]);
  const left = Math.ceil((untilMs - nowMs) / 1000);
  const said = TOLD_S.filter((seconds) => left <= seconds).at(-1);
  return (
    <p className={left <= 60 ? "countdown short" : "countdown"}>
      <span className="soft">time left</span>{" "}
      <b className="figures" role="timer">
        {up ? "time is up" : timeLeft(untilMs, nowMs)}
      </b>
      <span className="visually-hidden" aria-live="polite">
        {!up && said && `${said / 60} ${said === 60 ? "minute is" : "minutes are"} left`}
      </span>
    </p>
  );
}
