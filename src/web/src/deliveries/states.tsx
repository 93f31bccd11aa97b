import type { Schemas } from '../api/client';

export type DeliveryState = Schemas['DeliveryState'];
type EntryKind = Schemas['EntryKind'];

const words: Record<DeliveryState, string> = {
  planned: 'planned',
  awaitingYes: 'awaiting a yes',
  standBy: 'stand-by',
  sending: 'sending',
  sent: 'sent',
  refused: 'refused',
  unsure: 'unsure',
  byHand: 'by hand',
  missed: 'missed',
  cancelled: 'cancelled',
};

const edges: Record<DeliveryState, string> = {
  planned: 'edge',
  awaitingYes: 'edge-projected',
  standBy: 'edge-projected',
  sending: 'edge-sending',
  sent: 'edge-sent',
  refused: 'edge-failed',
  unsure: 'edge-failed',
  byHand: 'edge-sending',
  missed: 'edge-failed',
  cancelled: 'edge-empty',
};

export const stateWord = (state: DeliveryState) => words[state];
export const failed = (state: DeliveryState | null) => state === 'refused' || state === 'missed' || state === 'unsure';

/** A word for an entry of the line-up. */
export function entryWord(entry: { kind: EntryKind; state: DeliveryState | null; exact: boolean }): string {
  if (entry.kind === 'empty') return 'nothing to send';
  if (entry.kind === 'projected' || !entry.state) return 'may change';
  if (entry.state === 'planned') return entry.exact ? 'exact time' : 'settled';
  return words[entry.state];
}

/** The class that gives a card the edge of its state. */
export function entryEdge(entry: { kind: EntryKind; state: DeliveryState | null; dealtWith: boolean }): string {
  if (entry.kind === 'empty') return 'edge-empty';
  if (entry.kind === 'projected' || !entry.state) return 'edge-projected';
  if (failed(entry.state) && entry.dealtWith) return 'edge-empty';
  return edges[entry.state];
}
