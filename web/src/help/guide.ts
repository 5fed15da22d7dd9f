/** The guide's two texts, cut into their pages; the booklets are printed from the same files. */
import instructors from "../../../docs/guide/instructors.md?raw";
import students from "../../../docs/guide/students.md?raw";

/** slug is in the address: `a-reading-sheet`. */
export type GuidePage = { slug: string; title: string; text: string };

const PICTURES = import.meta.glob<string>("../../../docs/screenshots/*.png", {
  eager: true,
  query: "?url",
  import: "default",
});

export const GUIDES = { students: pagesOf(students), instructors: pagesOf(instructors) };
export type Whose = keyof typeof GUIDES;

/** What stands before the first heading is the first page, under the guide's own name. */
function pagesOf(guide: string): readonly GuidePage[] {
  return guide.split(/^## /m).map((part, at) => {
    const [first = "", ...rest] = part.split("\n");
    const title = first.replace(/^# /, "");
    return { slug: at === 0 ? "start" : slugOf(title), title, text: rest.join("\n").trim() };
  });
}

function slugOf(title: string): string {
  return title
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");
}

/** A picture's address in the application, for the path that the text names. */
export function pictureOf(path: string): string | undefined {
  return PICTURES[`../../../docs/screenshots/${path.split("/").pop()}`];
}
