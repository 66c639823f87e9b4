/** What can be done with a machine in the shop: a copy of it, putting it away. */
import { MoreVertical } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useState } from "react";
import { useNavigate } from "react-router";
import { client, noConnection, refusal, type ShopEntry } from "../api/client";
import { queries } from "../api/query";
import { Dialog } from "../common/dialog";

const ITEM = "flex min-h-10 cursor-pointer items-center px-3 data-[highlighted]:bg-now-wash";

export function CardMenu({ entry, onRefused }: { entry: ShopEntry; onRefused: (what: string) => void }) {
  const [copying, setCopying] = useState(false);
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="button plain border-0! px-1.5!" aria-label={`What to do with ${entry.name}`}>
          <MoreVertical size={18} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" className="z-50 min-w-44 border border-ink bg-panel p-1">
            <DropdownMenu.Item className={ITEM} onSelect={() => setCopying(true)}>
              Copy
            </DropdownMenu.Item>
            <DropdownMenu.Item className={ITEM} onSelect={() => void putAway(entry.slug, true).then(onRefused)}>
              Put away
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {copying && <Copy entry={entry} onClose={() => setCopying(false)} />}
    </>
  );
}

/** What went wrong, or "". */
export async function putAway(slug: string, away: boolean): Promise<string> {
  const { data, error } = await client
    .POST("/api/machines/{slug}/put-away", { params: { path: { slug } }, body: { away } })
    .catch(noConnection);
  await queries.invalidateQueries({ queryKey: ["machines"] });
  return data ? "" : refusal(error);
}

function Copy({ entry, onClose }: { entry: ShopEntry; onClose: () => void }) {
  const [name, setName] = useState(`${entry.name} 2`);
  const [trouble, setTrouble] = useState("");
  const navigate = useNavigate();
  const copy = async () => {
    const { data, error } = await client
      .POST("/api/machines/{slug}/copy", { params: { path: { slug: entry.slug } }, body: { name } })
      .catch(noConnection);
    if (data) navigate(`/machines/${data.slug}/machine`);
    else setTrouble(refusal(error));
  };
  return (
    <Dialog open onClose={onClose} title={`Copy ${entry.name}`}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void copy();
        }}
      >
        <p className="text-ink-2">The Setup is copied; readings, proofs and history stay with {entry.name}.</p>
        <label className="grid gap-1">
          Name of the copy
          <input
            className="field border! border-ink! text-left!"
            value={name}
            required
            maxLength={80}
            onChange={(event) => setName(event.currentTarget.value)}
          />
        </label>
        {trouble && (
          <p role="alert" className="text-stop">
            {trouble}
          </p>
        )}
        <div className="flex gap-3">
          <button type="submit" className="button first">
            Copy
          </button>
          <button type="button" className="button plain" onClick={onClose}>
            Cancel
          </button>
        </div>
      </form>
    </Dialog>
  );
}
