import type { Schemas } from '../api/client';
import { useWorkspacePath } from '../workspaces/workspace';
import { type MediaFile, mediaAddress } from './media';

type Focus = Schemas['FocalPoint'] | null;

interface Props {
  file: MediaFile;
  value: Focus;
  onChange: (focus: Focus) => void;
}

const step = 0.02;
const within = (share: number) => Math.min(1, Math.max(0, Math.round(share * 1000) / 1000));

/** The picture, with the point that matters most in it: pressed, or moved by the arrow keys. Crops are suggested round it. */
export function FocusPoint({ file, value, onChange }: Props) {
  const { id } = useWorkspacePath();
  const { x, y } = value ?? { x: 0.5, y: 0.5 };
  const moves: Record<string, [number, number]> = {
    ArrowLeft: [-step, 0],
    ArrowRight: [step, 0],
    ArrowUp: [0, -step],
    ArrowDown: [0, step],
  };
  return (
    <div>
      <button
        type="button"
        data-focus-point
        aria-label={`What matters most lies at ${Math.round(x * 100)} % from the left, ${Math.round(y * 100)} % from above. Arrow keys move it.`}
        className="relative mx-auto block w-fit cursor-crosshair bg-wash"
        onPointerDown={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          onChange({
            x: within((event.clientX - box.left) / box.width),
            y: within((event.clientY - box.top) / box.height),
          });
        }}
        onKeyDown={(event) => {
          const move = moves[event.key];
          if (!move) return;
          event.preventDefault();
          onChange({ x: within(x + move[0]), y: within(y + move[1]) });
        }}
      >
        <img
          src={mediaAddress(id, file.id, 640)}
          alt={file.altText}
          className="max-h-72 max-w-full"
          draggable={false}
        />
        <span
          aria-hidden="true"
          className="-translate-x-1/2 -translate-y-1/2 pointer-events-none absolute size-7 rounded-full border-2 border-white shadow-[0_0_0_1.5px_#0008,inset_0_0_0_1.5px_#0008]"
          style={{ left: `${x * 100}%`, top: `${y * 100}%` }}
        />
      </button>
      <p className="mt-1 text-faded text-sm">
        {value
          ? 'The ring marks what matters most: crops are suggested round it. '
          : 'Press where the picture matters most: crops are suggested round it. '}
        {value && (
          <button type="button" className="link min-h-6" onClick={() => onChange(null)}>
            The middle again
          </button>
        )}
      </p>
    </div>
  );
}
