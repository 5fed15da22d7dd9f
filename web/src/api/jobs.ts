/** Long work that a worker does: waited for until it is over. */
import { ApiProblem, api, type Schemas, unwrap } from "./client";

export type Job = Schemas["JobOut"];
const LOOK_MS = 500;

/**
 * The job when it is over. Throws ApiProblem where it failed; a network that is away is waited for.
 * onLook is told each time that somebody looked how far it is.
 */
export async function finished(asked: Job, onLook?: (job: Job) => void): Promise<Job> {
  let job = asked;
  while (!job.is_over) {
    await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
    try {
      job = await unwrap(api.GET("/api/jobs/{job_id}", { params: { path: { job_id: asked.id } } }));
      onLook?.(job);
    } catch (error) {
      // The work goes on without us.
      if (!(error instanceof ApiProblem) || (error.status !== 0 && error.status < 500)) throw error;
    }
  }
  if (job.state === "failed") throw new ApiProblem(422, job.says, job.faults);
  return job;
}
