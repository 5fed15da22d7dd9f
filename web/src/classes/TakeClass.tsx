/** A whole class as a file: a worker packs it, and the browser fetches it when it is ready. */
import { useMutation } from "@tanstack/react-query";
import { Button } from "antd";
import { api, unwrap } from "../api/client";
import { finished } from "../api/jobs";
import { Problem } from "../kit/Problem";

export function TakeClass({ classId }: { classId: number }) {
  const pack = useMutation({
    mutationFn: async () =>
      finished(
        await unwrap(
          api.POST("/api/classes/{class_id}/archive", { params: { path: { class_id: classId } } }),
        ),
      ),
    // An answer that is a file leaves the page where it is.
    onSuccess: (job) => window.location.assign(`/api/jobs/${job.id}/file`),
  });
  return (
    <>
      <Button loading={pack.isPending} onClick={() => pack.mutate()}>
        {pack.isPending ? "Packing the class" : "Whole class as a file"}
      </Button>
      <Problem error={pack.error} />
    </>
  );
}
