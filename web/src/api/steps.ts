/** Answers that come a line at a time (NDJSON), so that long work shows how far it is. */
import { ApiProblem, type Schemas } from "./client";

export async function* linesOf<T>(body: ReadableStream<Uint8Array>): AsyncGenerator<T> {
  const reader = body.getReader();
  const text = new TextDecoder();
  let rest = "";
  for (;;) {
    const { done, value } = await reader.read();
    const lines = (rest + text.decode(value, { stream: !done })).split("\n");
    rest = lines.pop() ?? "";
    for (const line of lines) if (line.trim() !== "") yield JSON.parse(line) as T;
    if (done) break;
  }
  if (rest.trim() !== "") yield JSON.parse(rest) as T;
}

type Step<Taken> = {
  done: number;
  of: number;
  taken?: Taken | null;
  problem?: Schemas["Problem"] | null;
};

/**
 * What came out of work told step by step. Throws ApiProblem for a refusal on the last line, and
 * for an answer that broke off: the server then has undone all of it.
 */
export async function outcomeOf<Taken>(
  body: ReadableStream<Uint8Array>,
  onStep: (done: number, of: number) => void,
): Promise<Taken> {
  try {
    for await (const step of linesOf<Step<Taken>>(body)) {
      onStep(step.done, step.of);
      if (step.problem) {
        const { status, detail, fields, confirm } = step.problem;
        throw new ApiProblem(status, detail, fields ?? [], confirm ?? false);
      }
      if (step.taken) return step.taken;
    }
  } catch (fault) {
    if (fault instanceof ApiProblem) throw fault;
  }
  throw new ApiProblem(
    0,
    "The connection broke off before all was in, so nothing was taken in. Try again.",
  );
}
