/** Whether a leaf is heard as it is felt. */

type Props = { on: boolean; onTick: (on: boolean) => void };

export function SoundTick({ on, onTick }: Props) {
  return (
    <label className="tick-line">
      <input type="checkbox" checked={on} onChange={(event) => onTick(event.target.checked)} />
      with sound
    </label>
  );
}
