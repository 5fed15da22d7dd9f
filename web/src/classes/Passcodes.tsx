/** New passcodes, shown this once to the instructor who made them: as a list, and as slips to cut. */
import { useMutation } from "@tanstack/react-query";
import { Button } from "antd";
import { useEffect, useState } from "react";
import { api, unwrap } from "../api/client";
import { Ask } from "../kit/Ask";
import { Problem } from "../kit/Problem";
import { type NewStudent, usePasscodes } from "./usePasscodes";

export function Passcodes({ classId }: { classId: number }) {
  const { people, done } = usePasscodes(classId);
  const [asking, setAsking] = useState(false);
  const slips = useSlips(classId);
  useEffect(() => {
    if (people.length === 0) return;
    const stay = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", stay);
    return () => window.removeEventListener("beforeunload", stay);
  }, [people]);
  if (people.length === 0) return null;
  const fresh = people.filter((person) => person.passcode !== null);
  return (
    <section className="notice calm passcodes" aria-label="Passcodes">
      <h2>Passcodes, told this once</h2>
      <p>
        They stay here until you say that you have them, also while you look at other tabs. Nobody
        can read them again later; a new one can always be made.
      </p>
      <table>
        <tbody>
          {people.map((person) => (
            <tr key={person.id}>
              <th scope="row">{person.display_name}</th>
              <td className="figures">{person.sign_in_name}</td>
              <td className="figures">
                <b>{person.passcode ?? "has one already"}</b>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Problem error={slips.error} />
      <div className="ways">
        {fresh.length > 0 && (
          <Button type="primary" loading={slips.isPending} onClick={() => slips.mutate(fresh)}>
            Slips to cut (PDF)
          </Button>
        )}
        <Button onClick={() => setAsking(true)}>I have them</Button>
      </div>
      <Ask
        open={asking}
        title="Have you got them all?"
        instead="Keep them here"
        does="Take them off the page"
        onClose={() => setAsking(false)}
        onConfirm={() => {
          setAsking(false);
          done();
        }}
      >
        <p>They are not shown again. Whoever lost theirs gets a new one.</p>
      </Ask>
    </section>
  );
}

/** The page knows the passcodes, the server does not keep them: so they are sent to be printed. */
function useSlips(classId: number) {
  return useMutation({
    mutationFn: async (people: readonly NewStudent[]) => {
      const body = { people: people.map(({ id, passcode }) => ({ id, passcode: passcode ?? "" })) };
      const file = await unwrap<unknown>(
        api.POST("/api/classes/{class_id}/slips.pdf", {
          params: { path: { class_id: classId } },
          body,
          parseAs: "blob",
        }),
      );
      save(file as Blob, "passcodes.pdf");
    },
  });
}

function save(file: Blob, name: string) {
  const address = URL.createObjectURL(file);
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  URL.revokeObjectURL(address);
}
