/** What two devices typed in one field of a form: both are shown, and the person chooses. */
import { Alert, Button } from "antd";
import type { Clash } from "../app/merging";
import type { LongForm } from "../app/useLongForm";

type Props = {
  form: Pick<LongForm<never>, "clashes" | "choose">;
  nameOf: (field: string) => string;
};

export function FormClashes({ form, nameOf }: Props) {
  return form.clashes.map((clash) => (
    <Alert
      key={clash.field}
      type="warning"
      showIcon
      role="status"
      title={saysOf(clash, nameOf(clash.field))}
      action={
        <>
          <Button onClick={() => form.choose(clash, "mine")}>Keep mine</Button>{" "}
          <Button onClick={() => form.choose(clash, "theirs")}>Take the other</Button>
        </>
      }
    />
  ));
}

function saysOf({ mine, theirs }: Clash, field: string): string {
  if (!isPlain(mine) || !isPlain(theirs)) {
    return `${field}: changed on another device too, to something else.`;
  }
  return `${field}: another device has ${plain(theirs)}; here it is ${plain(mine)}.`;
}

function isPlain(value: unknown): boolean {
  return value === undefined || typeof value !== "object" || value === null;
}

function plain(value: unknown): string {
  if (value === true) return "ticked";
  if (value === false) return "not ticked";
  return value === undefined || value === null || value === "" ? "nothing" : String(value);
}
