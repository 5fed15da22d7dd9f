/** The small drawing of a word, as the core made it. */
import drawings from "../api/drawings.json";
import "./words.css";

type Drawing = {
  strokes: { points: number[][]; ink: string; closed: boolean }[];
  letters: { at: number[]; text: string; ink: string }[];
};

export function WordDrawing({ name }: { name: string }) {
  const drawing = (drawings as Record<string, Drawing>)[name];
  if (drawing === undefined) return null;
  return (
    <svg className="word-drawing" viewBox="0 0 120 80" aria-hidden="true">
      {drawing.strokes.map((stroke) => (
        <path
          key={JSON.stringify(stroke.points)}
          className={stroke.ink}
          data-closed={stroke.closed}
          d={`M${stroke.points.map((point) => point.join(" ")).join("L")}${stroke.closed ? "Z" : ""}`}
        />
      ))}
      {drawing.letters.map((letters) => (
        <text key={letters.text} className={letters.ink} x={letters.at[0]} y={letters.at[1]}>
          {letters.text}
        </text>
      ))}
    </svg>
  );
}
