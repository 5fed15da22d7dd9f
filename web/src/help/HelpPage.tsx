/** The guide: a page of it, what else there is, and the words of the trade. */
import { useEffect } from "react";
import Markdown from "react-markdown";
import { Link, Navigate, NavLink, useParams } from "react-router";
import { usePerson } from "../app/session";
import { GUIDES, type GuidePage, pictureOf, type Whose } from "./guide";
import { WordList } from "./WordList";
import "./help.css";

const NAMES: Record<Whose, string> = { students: "For students", instructors: "For instructors" };

export default function HelpPage() {
  const { may_teach: teaches } = usePerson();
  const { whose = "", page = "start" } = useParams();
  const isWords = whose === "words";
  const guide = teaches && whose !== "students" ? "instructors" : "students";
  const shown = GUIDES[guide].find(({ slug }) => slug === page);
  useEffect(() => {
    document.title = `${isWords ? "Words" : (shown?.title ?? "Guide")} · Edrix`;
  }, [isWords, shown]);
  if (!isWords && (whose !== guide || shown === undefined)) {
    return <Navigate to={`/help/${guide}/start`} replace />;
  }
  return (
    <div className="help">
      <nav aria-label="Guide">
        {teaches && (
          <p className="ways">
            {(["instructors", "students"] as const).map((one) => (
              <Link key={one} className="button" to={`/help/${one}/start`}>
                {NAMES[one]}
              </Link>
            ))}
          </p>
        )}
        <ul>
          {GUIDES[guide].map(({ slug, title }) => (
            <li key={slug}>
              <NavLink to={`/help/${guide}/${slug}`}>{title}</NavLink>
            </li>
          ))}
          <li>
            <NavLink to="/help/words">Words of the trade</NavLink>
          </li>
        </ul>
        <a className="button" href={`/api/guide/${guide}.pdf`} target="_blank" rel="noreferrer">
          Print as a booklet
        </a>
      </nav>
      <article className="card">
        {isWords ? <WordList /> : shown && <Page page={shown} next={nextOf(guide, shown)} />}
      </article>
    </div>
  );
}

function nextOf(guide: Whose, shown: GuidePage): { to: string; title: string } | null {
  const next = GUIDES[guide][GUIDES[guide].indexOf(shown) + 1];
  return next ? { to: `/help/${guide}/${next.slug}`, title: next.title } : null;
}

type PageProps = { page: GuidePage; next: { to: string; title: string } | null };

function Page({ page, next }: PageProps) {
  return (
    <>
      <h1>{page.title}</h1>
      <Markdown
        components={{
          img: ({ src, alt }) => (
            <img src={pictureOf(String(src))} alt={alt ?? ""} loading="lazy" />
          ),
        }}
      >
        {page.text}
      </Markdown>
      {next && (
        <p>
          Next: <Link to={next.to}>{next.title}</Link>
        </p>
      )}
    </>
  );
}
