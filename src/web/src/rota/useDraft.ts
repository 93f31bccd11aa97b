import { useState } from 'react';
import { type Draft, draftOf, editOf } from './draft';
import type { Rota, RotaEdit } from './rota';

/** What is laid out and not yet applied, by rota; it outlives a look at another view. */
const kept = new Map<string, { slots: readonly Draft[]; version: number }>();

export const settingsOf = ({ name, from, to, replaces, zone, version }: Rota) => ({
  name,
  from,
  to,
  replaces,
  zone,
  version,
});

/** The rota as it is being laid out: nothing is saved until it is applied. */
export function useDraft(rota: Rota) {
  const [, render] = useState(0);
  const draft = kept.get(rota.id);
  const slots = draft?.slots ?? draftOf(rota);
  const set = (next: readonly Draft[] | null) => {
    if (next) kept.set(rota.id, { slots: next, version: draft?.version ?? rota.version });
    else kept.delete(rota.id);
    render((n) => n + 1);
  };
  const edit = (of: readonly Draft[] = slots): RotaEdit => ({
    ...settingsOf(rota),
    version: draft?.version ?? rota.version,
    slots: of.map(editOf),
  });
  return { slots, isChanged: draft !== undefined, set, edit };
}
