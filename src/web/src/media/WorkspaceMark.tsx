import { initials, palette } from '../categories/palette';
import type { WorkspaceLink } from '../workspaces/workspace';
import { mediaAddress } from './media';

/** What tells a workspace from others: its logo, or two letters, on its colour. */
export function WorkspaceMark({ workspace, size = 22 }: { workspace: WorkspaceLink; size?: number }) {
  const { id, name, colour, logoId } = workspace;
  if (logoId)
    return (
      <img
        src={mediaAddress(id, logoId, 160)}
        alt=""
        className="inline-block shrink-0 rounded-sm border-b-[3px] object-cover"
        style={{ width: size, height: size, borderColor: `var(--${colour})` }}
      />
    );
  return (
    <span
      aria-hidden="true"
      data-letters={initials(name)}
      className="inline-flex shrink-0 items-center justify-center rounded-sm font-head font-semibold before:content-[attr(data-letters)]"
      style={{
        width: size,
        height: size,
        fontSize: size * 0.5,
        background: `var(--${colour})`,
        color: palette[colour] ? 'var(--on-pale)' : 'var(--on-deep)',
      }}
    />
  );
}
