/** A student's own skills in each of their classes, on the page of their work. */
import { useQueries, useSuspenseQuery } from "@tanstack/react-query";
import { classesQuery, ownProgressQuery } from "../api/queries";
import { Feel } from "./Feel";
import { Skills } from "./Skills";

export function OwnSkills() {
  const { data: classes } = useSuspenseQuery(classesQuery);
  const mine = classes.filter((one) => one.role === "student");
  const found = useQueries({ queries: mine.map((one) => ownProgressQuery(one.id)) });
  const told = found.flatMap(({ data }) => (data ? [data] : []));
  if (
    !told.some(
      (one) => one.skills.some((skill) => skill.state !== "unseen" || skill.signed) || one.feel,
    )
  )
    return null;
  return (
    <>
      {told.map((one) => (
        <section key={one.class_id}>
          <h2>My skills{told.length > 1 && `, ${one.class_name}`}</h2>
          <Skills skills={one.skills} />
          {one.feel && <Feel hand={one.feel} />}
        </section>
      ))}
    </>
  );
}
