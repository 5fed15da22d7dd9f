/** One student's way through a class: bias over the sheets, skills, and what comes next. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Button, Empty } from "antd";
import { useState } from "react";
import { useParams } from "react-router";
import type { Schemas } from "../api/client";
import { progressQuery } from "../api/queries";
import { Desk } from "../kit/Desk";
import { Feel } from "./Feel";
import { HandChart } from "./HandChart";
import { SignOff } from "./SignOff";
import { Skills } from "./Skills";
import "./progress.css";

export default function ProgressPage() {
  const { classId = "", studentId = "" } = useParams();
  const { data: told } = useSuspenseQuery(progressQuery(Number(classId), Number(studentId)));
  const [asked, setAsked] = useState<Schemas["SkillOut"] | null>(null);
  return (
    <Desk
      title={told.student}
      from={{ to: `/classes/${told.class_id}/students`, title: told.class_name }}
    >
      <section>
        <h2>Skills</h2>
        <p className="soft">
          Competent: nine of ten right, twice running. You sign off, because you have watched the
          work.
        </p>
        <Skills
          skills={told.skills}
          ways={(skill) => (
            <Button onClick={() => setAsked(skill)}>
              {skill.signed ? "Withdraw" : "Sign off"}
              <span className="visually-hidden"> {skill.label}</span>
            </Button>
          )}
        />
      </section>
      <section>
        <h2>Bias, sheet by sheet</h2>
        {told.hands.length === 0 ? (
          <Empty description="No sheet handed in yet. Bias shows from the first one on." />
        ) : (
          <HandChart hands={told.hands} />
        )}
      </section>
      {told.feel && (
        <section>
          <h2>Felt blind</h2>
          <Feel hand={told.feel} />
        </section>
      )}
      <SignOff told={told} skill={asked} onClose={() => setAsked(null)} />
    </Desk>
  );
}
