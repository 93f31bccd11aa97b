import { useRef } from 'react';
import { useWorkspacePath } from '../workspaces/workspace';
import { type Crop, type CropChoice, movedTo, sizedTo } from './crops';
import { type MediaFile, mediaAddress } from './media';

interface Props {
  file: MediaFile;
  crop: Crop;
  asked: CropChoice;
  onChange: (crop: Crop) => void;
}

/** One press of an arrow key moves or sizes by this share of the picture; with Alt by a pixel. */
const keyShare = 0.01;

const directions: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The picture with a frame on it: moved and sized by pointer, by touch, and by the arrow keys. */
export function CropFrame({ file, crop, asked, onChange }: Props) {
  const { id } = useWorkspacePath();
  const stage = useRef<HTMLDivElement>(null);
  const held = useRef<{ x: number; y: number; crop: Crop; sizing: boolean } | null>(null);
  const percent = (part: number, whole: number) => `${(100 * part) / whole}%`;
  const place = {
    left: percent(crop.x, file.width),
    top: percent(crop.y, file.height),
    width: percent(crop.width, file.width),
    height: percent(crop.height, file.height),
  };

  const hold = (event: React.PointerEvent, sizing: boolean) => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    held.current = { x: event.clientX, y: event.clientY, crop, sizing };
  };
  const move = (event: React.PointerEvent) => {
    const box = stage.current?.getBoundingClientRect();
    const from = held.current;
    if (!from || !box) return;
    const across = ((event.clientX - from.x) * file.width) / box.width;
    const down = ((event.clientY - from.y) * file.height) / box.height;
    onChange(
      from.sizing
        ? sizedTo(from.crop, from.crop.width + across, from.crop.height + down, file, asked)
        : movedTo(from.crop, from.crop.x + across, from.crop.y + down, file),
    );
  };
  const drop = () => {
    held.current = null;
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    const [x, y] = directions[event.key] ?? [0, 0];
    if (x === 0 && y === 0) return;
    event.preventDefault();
    const [across, down] = event.altKey ? [1, 1] : [file.width * keyShare, file.height * keyShare];
    if (!event.shiftKey) onChange(movedTo(crop, crop.x + x * across, crop.y + y * down, file));
    else {
      // Where the shape is fixed, one side takes the other with it.
      const isFixed = asked.minRatio !== null && asked.maxRatio !== null && asked.maxRatio - asked.minRatio < 0.06;
      const ratio = crop.width / crop.height;
      const width = crop.width + (x !== 0 ? x * across : isFixed ? y * down * ratio : 0);
      const height = crop.height + (y !== 0 ? y * down : isFixed ? (x * across) / ratio : 0);
      onChange(sizedTo(crop, width, height, file, asked));
    }
  };

  return (
    <div ref={stage} className="relative mx-auto w-fit touch-none select-none" data-crop-stage>
      <img
        src={mediaAddress(id, file.id, 1280)}
        alt={file.altText}
        draggable={false}
        className="max-h-[24rem] max-w-full"
      />
      <div aria-hidden="true" className="pointer-events-none absolute inset-0 overflow-hidden">
        <div className="absolute shadow-[0_0_0_100vmax_#000a]" style={place} />
      </div>
      {/* biome-ignore lint/a11y/useSemanticElements: no element of HTML frames a part of a picture */}
      <div
        role="group"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the frame is moved by keys
        tabIndex={0}
        data-crop-frame={`${crop.x},${crop.y},${crop.width},${crop.height}`}
        aria-label={`The part that is sent: ${crop.width} by ${crop.height} pixels, ${crop.x} from the left, ${crop.y} from above. Arrow keys move it, Shift with arrow keys sizes it.`}
        className="absolute cursor-move border-2 border-white shadow-[0_0_0_1.5px_#000a] outline-offset-4 focus-visible:outline-3 focus-visible:outline-dawn"
        style={place}
        onPointerDown={(event) => hold(event, false)}
        onPointerMove={move}
        onPointerUp={drop}
        onPointerCancel={drop}
        onKeyDown={onKeyDown}
      >
        <span
          aria-hidden="true"
          className="pointer-events-none absolute inset-x-0 top-1/3 bottom-1/3 border-white/50 border-y"
        />
        <span
          aria-hidden="true"
          className="pointer-events-none absolute inset-y-0 right-1/3 left-1/3 border-white/50 border-x"
        />
        <span
          aria-hidden="true"
          data-crop-corner
          className="-right-3 -bottom-3 absolute size-6 cursor-nwse-resize rounded-full border-2 border-white bg-dawn shadow-[0_0_0_1.5px_#000a]"
          onPointerDown={(event) => hold(event, true)}
          onPointerMove={move}
          onPointerUp={drop}
          onPointerCancel={drop}
        />
      </div>
    </div>
  );
}
