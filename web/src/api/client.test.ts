/** Answers of the server as data, or as one class of error with a sentence. */
import { describe, expect, it } from "vitest";
import { problem, serve } from "../testing/render";
import { ApiProblem, api, unwrap } from "./client";

const list = () => unwrap(api.GET("/api/engines"));

async function refusal(act: () => Promise<unknown>): Promise<ApiProblem> {
  const error = await act().catch((caught: unknown) => caught);
  if (!(error instanceof ApiProblem)) throw new Error("nothing was refused");
  return error;
}

describe("unwrap", () => {
  it("gives the data of a success", async () => {
    serve(() => ({ body: [] }));
    expect(await list()).toEqual([]);
  });

  it("keeps the server's sentence, fields and question", async () => {
    const fields = [{ path: "valve 2.reading", problem: "is not a number" }];
    serve(() => ({ status: 409, body: problem(409, "Look again.", { fields, confirm: true }) }));
    const error = await refusal(list);
    expect(error.message).toBe("Look again.");
    expect(error.fields).toEqual(fields);
    expect(error.confirm).toBe(true);
  });

  it("says that the server cannot be reached", async () => {
    serve(() => "down");
    const error = await refusal(list);
    expect(error.status).toBe(0);
    expect(error.message).toContain("cannot be reached");
  });

  it("has a sentence for an answer that is none of ours", async () => {
    serve(() => ({ status: 502, body: "bad gateway" }));
    expect((await refusal(list)).message).toContain("error 502");
  });

  it("sends the CSRF token with what changes something", async () => {
    // biome-ignore lint/suspicious/noDocumentCookie: the token is a cookie
    document.cookie = "csrftoken=tok-123";
    let token: string | null = "";
    const real = globalThis.fetch;
    globalThis.fetch = async (input) => {
      token = (input as Request).headers.get("X-CSRFToken");
      return new Response("{}", { headers: { "Content-Type": "application/json" } });
    };
    await unwrap(api.POST("/api/classes", { body: { name: "A" } }));
    globalThis.fetch = real;
    expect(token).toBe("tok-123");
  });
});
