/** One rota: the week as it stands, what it is to hold, and who is away. */
import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { Alert, Button, Tabs } from "antd";
import { Navigate, useNavigate, useParams } from "react-router";
import { api, unwrap } from "../api/client";
import { keys } from "../api/keys";
import { rotaQuery } from "../api/rota";
import { Ask } from "../kit/Ask";
import { Desk } from "../kit/Desk";
import { Life } from "../kit/Life";
import { Problem } from "../kit/Problem";
import { Rename } from "../kit/Rename";
import { AwayGrid } from "./AwayGrid";
import { changeRota } from "./changeRota";
import { Setup } from "./Setup";
import { useWish, type Wishing } from "./useWish";
import { Week } from "./Week";
import type { Rota } from "./words";
import "./rota.css";

export default function RotaPage() {
  const { rotaId = "", tab = "" } = useParams();
  const go = useNavigate();
  const id = Number(rotaId);
  const { data: rota } = useSuspenseQuery(rotaQuery(id));
  const wishing = useWish(rota);
  const places = [
    { key: "week", label: "The week", children: <Week rota={rota} waits={wishing.changed} /> },
    {
      key: "holds",
      label: "Slots, places, tasks",
      children: <Setup rota={rota} wishing={wishing} />,
    },
    { key: "away", label: "Who is away", children: <AwayGrid rota={rota} wishing={wishing} /> },
  ];
  if (!places.some((place) => place.key === tab)) {
    const first = rota.wish.tasks?.length ? "week" : "holds";
    return <Navigate to={`/rota/${id}/${first}`} replace />;
  }
  return (
    <Desk
      title={rota.title}
      from={{ to: `/classes/${rota.class_id}/rotas`, title: rota.class_name }}
      ways={<Ways rota={rota} onRemoved={() => go(`/classes/${rota.class_id}/rotas`)} />}
    >
      <Unsaved wishing={wishing} />
      <Tabs
        activeKey={tab}
        destroyOnHidden
        onChange={(place) => go(`/rota/${id}/${place}`, { replace: true })}
        items={places}
      />
    </Desk>
  );
}

function Ways({ rota, onRemoved }: { rota: Rota; onRemoved: () => void }) {
  const queries = useQueryClient();
  const post = useMutation({
    mutationFn: () => changeRota(rota.id, { posted: rota.posted_at === null }),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.rotas }),
  });
  const file = (kind: string) => `/api/rotas/${rota.id}/rota.${kind}`;
  return (
    <>
      <Problem error={post.error} />
      {rota.bookings.length > 0 && (
        <>
          <Button
            type={rota.posted_at === null ? "primary" : "default"}
            loading={post.isPending}
            onClick={() => post.mutate()}
          >
            {rota.posted_at === null ? "Post it to the class" : "Take it down"}
          </Button>
          <a className="button" href={file("pdf")} target="_blank" rel="noreferrer">
            Wall poster
          </a>
          <a className="button" href={file("csv")}>
            CSV
          </a>
        </>
      )}
      <Rename
        name={rota.title}
        maxLength={120}
        save={async (title) => {
          await changeRota(rota.id, { title });
          await queries.invalidateQueries({ queryKey: keys.rotas });
        }}
      />
      <Life
        name={rota.title}
        away={rota.away}
        about="Its students see it no more."
        putAway={(away) => changeRota(rota.id, { away })}
        onRemoved={onRemoved}
        remove={() =>
          unwrap(api.DELETE("/api/rotas/{rota_id}", { params: { path: { rota_id: rota.id } } }))
        }
      />
    </>
  );
}

/** What is changed and not saved is in sight wherever one looks. */
function Unsaved({ wishing }: { wishing: Wishing }) {
  const { changed, outrun, save, asks } = wishing;
  if (!changed) return null;
  return (
    <>
      <Alert
        type="info"
        className="unsaved"
        title={
          outrun
            ? "Somebody has changed this rota since you began. What you typed is kept here; saving puts it in place of theirs."
            : "What you changed is kept on this device, and counts once it is saved."
        }
        action={
          <div className="ways">
            {outrun ? (
              <Button onClick={wishing.rebase}>Take mine</Button>
            ) : (
              <Button type="primary" loading={save.isPending} onClick={() => save.mutate(false)}>
                Save
              </Button>
            )}
            <Button onClick={wishing.forget}>Discard</Button>
          </div>
        }
      />
      {asks.length === 0 && <Problem error={save.error} intro="This can't be saved yet:" />}
      <Ask
        open={asks.length > 0}
        title="Bookings would go"
        instead="Look again"
        does="Save, and let them go"
        danger
        pending={save.isPending}
        onClose={() => save.reset()}
        onConfirm={() => save.mutate(true)}
      >
        <p>{asks[0]?.problem}</p>
      </Ask>
    </>
  );
}
