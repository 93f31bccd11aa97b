import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, ask } from '../api/client';
import { useUndo } from '../changes/undo';
import { instantWords } from '../time/dates';
import { Button } from '../ui/Button';
import { Popover } from '../ui/Popover';
import { Fetched } from '../ui/States';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';

/** So many acts are looked back on. */
const shown = 12;

/** The last acts, each to be taken back for as long as that can be done. */
export function LastActs() {
  const [open, setOpen] = useState(false);
  return (
    <Popover
      label="What was done last"
      open={open}
      onOpenChange={setOpen}
      trigger={
        <Button variant="quiet" className="!px-2 !font-normal" aria-label="What was done last">
          <span aria-hidden="true">↶</span>
        </Button>
      }
    >
      {open && <Acts />}
    </Popover>
  );
}

function Acts() {
  const { id, path } = useWorkspacePath();
  const zone = useWorkspace().data?.zone ?? 'UTC';
  const undo = useUndo();
  const acts = useQuery({
    queryKey: ['changes', id],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/changes', { params: { path } })),
  });
  return (
    <section aria-label="The last acts" className="w-96 max-w-[calc(100vw-2rem)]">
      <h2 className="mb-1">Done last</h2>
      <Fetched query={acts} what="the last acts">
        {(all) =>
          all.length === 0 ? (
            <p className="text-faded">Nothing was done here yet.</p>
          ) : (
            <ol className="max-h-[26rem] overflow-y-auto">
              {all.slice(0, shown).map((act) => (
                <li key={act.id} className="flex items-start gap-3 border-rule border-t py-1.5 text-sm">
                  <span
                    className={`min-w-0 grow [overflow-wrap:anywhere] ${act.undone ? 'text-faded line-through' : ''}`}
                  >
                    {act.act}
                    <span className="block text-faded">
                      {[act.token ?? act.who, instantWords(act.at, zone)].filter(Boolean).join(', ')}
                    </span>
                  </span>
                  {act.mayUndo && (
                    <Button
                      className="shrink-0"
                      disabled={undo.isPending}
                      aria-label={`Take back: ${act.act}`}
                      onClick={() => undo.mutate(act.id)}
                    >
                      Take back
                    </Button>
                  )}
                  {act.undone && <span className="shrink-0 text-faded">taken back</span>}
                </li>
              ))}
            </ol>
          )
        }
      </Fetched>
    </section>
  );
}
