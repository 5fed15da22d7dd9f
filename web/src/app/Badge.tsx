/** A valve's number in the shape of its role: ring for intake, notched square for exhaust. */

const SHAPES: Record<string, string> = {
  intake: "M20 3a17 17 0 1 0 0 34 17 17 0 0 0 0-34z",
  exhaust: "M4 4h24l8 8v24H4z",
  brake: "M4 3h32v34H4z",
};

export function Badge({
  number,
  role,
  size = 40,
}: {
  number: number;
  role: string;
  size?: number;
}) {
  return (
    <svg className={`badge ${role}`} viewBox="0 0 40 40" width={size} height={size}>
      <title>{`valve ${number}, ${role}`}</title>
      <path
        d={SHAPES[role] ?? SHAPES.brake}
        fill="var(--card)"
        stroke="var(--role)"
        strokeWidth="3"
      />
      {role === "brake" && <path d="M4 31h32" stroke="var(--role)" strokeWidth="3" />}
      <text
        x="20"
        y={role === "brake" ? 25 : 27}
        textAnchor="middle"
        fontSize={number > 99 ? 15 : 20}
        fontWeight="700"
        fill="var(--ink)"
      >
        {number}
      </text>
    </svg>
  );
}
