import type { ReactNode } from 'react';
import { useNetwork } from '../networks/networks';
import { useWorkspaceLink } from '../workspaces/workspace';
import type { FieldValues } from './content';
import { Shaped } from './looks';
import type { NetworkCheck } from './posts';

/** How the post will look there: what would be sent, with the part beyond the limit marked. */
export const Preview = ({ check, by }: { check: NetworkCheck; by?: string | undefined }) => (
  <PostLook network={check.network} by={by} fields={check.content} text={<Marked check={check} />} />
);

interface Props {
  network: string;
  /** The channel's name; left out: the workspace's. */
  by?: string | undefined;
  fields: FieldValues;
  text?: ReactNode;
}

/** What one channel gets, or got. */
export function PostLook({ network, by, fields, text }: Props) {
  const rules = useNetwork(network);
  const workspace = useWorkspaceLink();
  return <Shaped network={rules} by={by ?? workspace.name} fields={fields} text={text} />;
}

/** Links, hashtags and mentions stand out; what lies beyond the limit is struck. */
function Marked({ check: { content, parts, overflowAt } }: { check: NetworkCheck }) {
  const text = content.text ?? '';
  const end = overflowAt ?? text.length;
  const pieces: ReactNode[] = [];
  let at = 0;
  for (const part of parts) {
    const start = part.start ?? 0;
    const stop = Math.min(start + (part.length ?? 0), end);
    if (start >= end) break;
    pieces.push(text.slice(at, start));
    pieces.push(
      <span key={start} className="text-dawn">
        {text.slice(start, stop)}
      </span>,
    );
    at = stop;
  }
  pieces.push(text.slice(at, end));
  return (
    <>
      {pieces}
      {overflowAt !== null && (
        <mark className="bg-bad-wash text-bad line-through" title="Beyond the limit">
          {text.slice(end)}
        </mark>
      )}
    </>
  );
}
