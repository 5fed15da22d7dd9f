/** The schools of sequence by the names that people use. */
export const SCHOOLS = [
  { method: "two-stop", name: "Two stops", about: "half at one stop, the rest a full turn later" },
  {
    method: "opposite-valve",
    name: "Opposite valve",
    about: "with one valve fully open, set the one that makes the sum with it",
  },
  {
    method: "each-cylinder",
    name: "Each cylinder",
    about: "every cylinder at its firing TDC, in firing order",
  },
] as const;

export function schoolName(method: string): string {
  return SCHOOLS.find((school) => school.method === method)?.name ?? method;
}
