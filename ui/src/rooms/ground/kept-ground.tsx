/** The ground kept for other sites, and another laid under this one. */

import { useState } from "react";
import * as api from "../../api/packs";
import { NameField } from "../../parts/name-field";
import { Panel } from "../../parts/panel";
import { useLatest } from "../../parts/use-latest";
import { useSite } from "../../state/site";
import { sizeText } from "../../true-size";

export function KeptGround() {
  const [naming, setNaming] = useState(false);
  const [kept, setKept] = useState<string | null>(null);
  const title = useSite((s) => s.state?.title ?? "");
  const { say } = useSite.getState();
  function keep(name: string) {
    const ground = useSite.getState().shown?.ground;
    if (!ground) return;
    api.keepGround(name, ground).then(
      () => setKept(name),
      (error: unknown) => say(error instanceof Error ? error.message : String(error)),
    );
  }
  return (
    <div className="figures mt-1 flex flex-wrap items-center gap-x-3">
      {naming ? (
        <NameField label="Name to keep this ground under" name="" onName={keep} onDone={() => setNaming(false)} />
      ) : (
        <button
          type="button"
          className="min-h-6 underline"
          title={`Keep the ground of ${title}`}
          onClick={() => setNaming(true)}
        >
          Keep this ground
        </button>
      )}
      <LayAnother asked={kept ?? ""} />
      {kept && (
        <span className="text-quiet" role="status">
          kept as {kept}
        </span>
      )}
    </div>
  );
}

function LayAnother({ asked }: { asked: string }) {
  const [open, setOpen] = useState(false);
  const { value } = useLatest(open ? `grounds ${asked}` : null, api.keptGrounds);
  const { through } = useSite.getState();
  return (
    <Panel
      title="Another ground under this site"
      width={300}
      open={open}
      onOpen={setOpen}
      trigger={
        <button type="button" className="min-h-6 underline">
          Change the ground
        </button>
      }
    >
      {value?.length === 0 && <p className="text-quiet">None is kept yet: keep the ground of any site first.</p>}
      <div className="grid gap-1">
        {value?.map((one) => (
          <button
            key={one.id}
            type="button"
            className="key text-left"
            onClick={() => {
              setOpen(false);
              through("another ground laid under it", (base) => api.layUnder(base.id, base.revision, one.id));
            }}
          >
            {one.name} · {sizeText(one.widthM, one.depthM)}
          </button>
        ))}
      </div>
    </Panel>
  );
}
