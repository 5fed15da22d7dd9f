/** One student's way through a class: the hand over the sheets, skills, and what comes next. */
import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { progressQuery } from "../api/queries";
import { Dialog } from "../app/Dialog";
import { Empty, sentence } from "../app/feedback";
import { HandChart } from "./HandChart";
import { SKILLS, Skills } from "./Skills";
import "./progress.css";

export default function ProgressPage() {
  const { classId = "", studentId = "" } = useParams();
  const { data: told } = useSuspenseQuery(progressQuery(Number(classId), Number(studentId)));
  const [asked, setAsked] = useState<Schemas["SkillOut"] | null>(null);
  useEffect(() => {
    document.title = `${told.student} · Edrix`;
  }, [told]);
  return (
    <div className="progress">
      <div className="place-head">
        <div>
          <p>
            <Link to={`/classes/${told.class_id}/students`}>{told.class_name}</Link>
          </p>
          <h1>{told.student}</h1>
        </div>
      </div>
      <section>
        <h2>Skills</h2>
        <p className="soft">
          Shown: nine of ten right, twice running. Signing off is yours; you have seen the hands.
        </p>
        <Skills
          skills={told.skills}
          ways={(skill) => (
            <button type="button" className="button" onClick={() => setAsked(skill)}>
              {skill.signed ? "Take back" : "Sign off"}
              <span className="visually-hidden"> {SKILLS[skill.skill]}</span>
            </button>
          )}
        />
      </section>
      <section>
        <h2>The hand, sheet by sheet</h2>
        {told.hands.length === 0 ? (
          <Empty title="No sheet handed in yet">The lean of a hand shows from the first on.</Empty>
        ) : (
          <HandChart hands={told.hands} />
        )}
      </section>
      {asked && (
        <SignOff
          told={told}
          skill={asked}
          onClose={() => setAsked(null)}
          key={`${asked.skill}${asked.signed?.at}`}
        />
      )}
    </div>
  );
}

type SignOffProps = {
  told: Schemas["ProgressOut"];
  skill: Schemas["SkillOut"];
  onClose: () => void;
};

function SignOff({ told, skill, onClose }: SignOffProps) {
  const queries = useQueryClient();
  const [note, setNote] = useState("");
  const signed = skill.signed === null;
  const path = { class_id: told.class_id, student_id: told.student_id };
  const sign = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/classes/{class_id}/students/{student_id}/sign-offs", {
          params: { path },
          body: { skill: skill.skill, signed, note },
        }),
      ),
    onSuccess: (now) => {
      queries.setQueryData(progressQuery(told.class_id, told.student_id).queryKey, now);
      onClose();
    },
  });
  const name = SKILLS[skill.skill] ?? skill.skill;
  return (
    <Dialog open title={signed ? `Sign off: ${name}` : `Take back: ${name}`} onClose={onClose}>
      <form
        className="sign-off"
        onSubmit={(event) => {
          event.preventDefault();
          sign.mutate();
        }}
      >
        <p className="soft">
          {told.student}: {skill.says}. Your name and the time are kept and shown to the student.
        </p>
        <label>
          Note
          <textarea
            rows={2}
            maxLength={200}
            value={note}
            placeholder="Seen at stand 3, by hand."
            onChange={(event) => setNote(event.target.value)}
          />
        </label>
        {sign.isError && (
          <p className="notice" role="alert">
            {sentence(sign.error)}
          </p>
        )}
        <div className="dialog-ways">
          <button type="button" className="button" onClick={onClose}>
            Not now
          </button>
          <button type="submit" className="button main" disabled={sign.isPending}>
            {signed ? "Sign it off" : "Take it back"}
          </button>
        </div>
      </form>
    </Dialog>
  );
}
