/** A student's page looks whether their class is asked something; then the question is there. */
import { useQuery } from "@tanstack/react-query";
import { useLocation } from "react-router";
import { myAskedQuery, myNowQuery } from "../api/now";
import { PhoneQuestion } from "./PhoneQuestion";

export default function AskedNow() {
  const { pathname } = useLocation();
  // Today looks by itself, and at more: one look serves both.
  const { data } = useQuery(pathname === "/today" ? myNowQuery : myAskedQuery);
  const question = data?.questions.at(-1);
  return question ? <PhoneQuestion key={question.id} question={question} /> : null;
}
