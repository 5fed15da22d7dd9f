/** Answers a line at a time: however the network cuts them, each line counts once. */
import { describe, expect, it } from "vitest";
import { linesOf, outcomeOf } from "./steps";

function cut(text: string, size: number): ReadableStream<Uint8Array> {
  const bytes = new TextEncoder().encode(text);
  return new ReadableStream({
    start(controller) {
      for (let at = 0; at < bytes.length; at += size)
        controller.enqueue(bytes.slice(at, at + size));
      controller.close();
    },
  });
}

const TEXT = '{"done":1,"of":3,"who":"Bjørk"}\n{"done":2,"of":3,"who":"Åse"}\n\n{"done":3,"of":3}';

describe("lines", () => {
  it.each([1, 2, 7, 1000])("are whole when %i bytes come at a time", async (size) => {
    const lines = [];
    for await (const line of linesOf<{ done: number; who?: string }>(cut(TEXT, size)))
      lines.push(line);
    expect(lines.map((line) => line.done)).toEqual([1, 2, 3]);
    expect(lines.map((line) => line.who)).toEqual(["Bjørk", "Åse", undefined]);
  });
});

describe("an outcome", () => {
  const steps: number[] = [];
  const told = (done: number) => steps.push(done);

  it("is the last line's, after every step was told", async () => {
    const text = '{"done":1,"of":2}\n{"done":2,"of":2,"taken":{"takes":4}}\n';
    expect(await outcomeOf(cut(text, 5), told)).toEqual({ takes: 4 });
    expect(steps).toEqual([1, 2]);
  });

  it("is the refusal that undid the work", async () => {
    const problem = { status: 409, title: "Conflict", detail: "Bo has handed in." };
    const text = `${JSON.stringify({ done: 1, of: 2, problem })}\n`;
    await expect(outcomeOf(cut(text, 9), told)).rejects.toMatchObject({ status: 409 });
  });

  it.each(['{"done":1,"of":2}\n', '{"done":1,"of":2}\n{"done":2,"o', "<html>gone</html>"])(
    "is none when the answer ends so: %s",
    async (text) => {
      await expect(outcomeOf(cut(text, 4), told)).rejects.toThrow("nothing was taken in");
    },
  );
});
