/** What may become of a whole class. */
import { api, unwrap } from "../api/client";
import { Life } from "../kit/Life";

type Props = { found: { id: number; name: string; away: boolean }; onRemoved?: () => void };

export function ClassLife({ found, onRemoved }: Props) {
  const place = { params: { path: { class_id: found.id } } };
  return (
    <Life
      name={found.name}
      away={found.away}
      about="Its sheets and practice engines are off its students' lists."
      putAway={(away) => unwrap(api.PATCH("/api/classes/{class_id}", { ...place, body: { away } }))}
      remove={() => unwrap(api.DELETE("/api/classes/{class_id}", place))}
      {...(onRemoved ? { onRemoved } : {})}
    />
  );
}
