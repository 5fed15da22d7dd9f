/** A student's page looks what their class is at: a question is there, and where a lesson leads. */
import { useQuery } from "@tanstack/react-query";
import { useLocation } from "react-router";
import { myAskedQuery, myNowQuery } from "../api/now";
import { OpensBar } from "./OpensBar";
import { PhoneQuestion } from "./PhoneQuestion";

export default function AskedNow() {
  const { pathname } = useLocation();
  // Today looks by itself, and at more: one look serves both.
  const { data } = useQuery(pathname === "/today" ? myNowQuery : myAskedQuery);
  const question = data?.questions.at(-1);
  return (
    <>
      <OpensBar opens={question ? [] : (data?.opens ?? [])} />
      {question && <PhoneQuestion key={question.id} question={question} />}
    </>
  );
}
