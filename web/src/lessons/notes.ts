/** The wall and the instructor's own screen, two windows of one browser: which step is held. */
import { useEffect, useRef } from "react";

type Said = { step: number } | { wish: number } | { asks: true };

const channelOf = (lessonId: number) => new BroadcastChannel(`edrix-lesson-${lessonId}`);

/** From the wall: this step is held; told again to notes that are opened later. */
export function tellNotes(lessonId: number, step: number): () => void {
  const channel = channelOf(lessonId);
  channel.postMessage({ step } satisfies Said);
  channel.onmessage = ({ data }: MessageEvent<Said>) => {
    if ("asks" in data) channel.postMessage({ step } satisfies Said);
  };
  return () => channel.close();
}

/** On the wall: what was pressed beside the notes, one step on or back. */
export function useNotesWish(lessonId: number, onWish: (by: number) => void) {
  const latest = useRef(onWish);
  latest.current = onWish;
  useEffect(() => {
    const channel = channelOf(lessonId);
    channel.onmessage = ({ data }: MessageEvent<Said>) => {
      if ("wish" in data) latest.current(data.wish);
    };
    return () => channel.close();
  }, [lessonId]);
}

/** On the notes: follows the wall, and moves it. */
export function followWall(lessonId: number, onStep: (step: number) => void) {
  const channel = channelOf(lessonId);
  channel.onmessage = ({ data }: MessageEvent<Said>) => {
    if ("step" in data) onStep(data.step);
  };
  channel.postMessage({ asks: true } satisfies Said);
  return {
    move: (by: number) => channel.postMessage({ wish: by } satisfies Said),
    close: () => channel.close(),
  };
}
