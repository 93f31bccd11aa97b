import { useState } from 'react';
import { NetworkMark, useNetworks } from '../networks/networks';
import { Button } from '../ui/Button';
import { Dialog } from '../ui/Dialog';
import { Fetched } from '../ui/States';
import { useWorkspacePath } from '../workspaces/workspace';
import { CropFrame } from './CropFrame';
import { askedWords, type Crop, type CropChoice, cropTrouble, viewBoxOf, wholeOf } from './crops';
import { type MediaFile, mediaAddress, useCropChoices, useMediaFacts } from './media';

/** A network that the picture goes to. */
export interface CropPlace {
  network: string;
  /** What the post is there. */
  format: string;
  crop: Crop | null;
}

interface Props {
  media: string;
  places: readonly CropPlace[];
  onDone: (crops: ReadonlyMap<string, Crop | null>) => void;
  onClose: () => void;
}

/** The parts of a picture that each network gets, side by side; one of them at a time is framed. */
export function CropDialog({ media, places, onDone, onClose }: Props) {
  const facts = useMediaFacts(media);
  const choices = useCropChoices(media);
  return (
    <Dialog
      open
      title="What each network gets of this picture"
      onClose={onClose}
      className="w-[58rem] p-5 !top-16 !max-h-[calc(100vh-5rem)]"
    >
      <Fetched query={facts} what="the picture">
        {(file) => (
          <Fetched query={choices} what="what the networks take">
            {(all) => <Crops file={file} choices={all} places={places} onDone={onDone} onClose={onClose} />}
          </Fetched>
        )}
      </Fetched>
    </Dialog>
  );
}

interface CropsProps extends Omit<Props, 'media'> {
  file: MediaFile;
  choices: readonly CropChoice[];
}

function Crops({ file, choices, places, onDone, onClose }: CropsProps) {
  const names = useNetworks().data ?? [];
  const [crops, setCrops] = useState<ReadonlyMap<string, Crop | null>>(new Map(places.map((p) => [p.network, p.crop])));
  const known = places.flatMap((place) => {
    const choice =
      choices.find((c) => c.network === place.network && c.format === place.format) ??
      choices.find((c) => c.network === place.network);
    return choice ? [{ ...place, choice }] : [];
  });
  const [at, setAt] = useState(known[0]?.network ?? '');
  const set = (network: string, crop: Crop | null) => setCrops((before) => new Map(before).set(network, crop));
  const partOf = (network: string) => crops.get(network) ?? wholeOf(file);
  const open = known.find((k) => k.network === at);
  if (!open) return <p className="py-4">None of the networks that this post goes to shows pictures.</p>;
  const others = known.filter((k) => k.network !== at && cropTrouble(partOf(at), k.choice) === null);

  return (
    <>
      <div className="mt-3 grid grid-cols-[1fr_17rem] gap-6">
        <div>
          <CropFrame file={file} crop={partOf(at)} asked={open.choice} onChange={(crop) => set(at, crop)} />
          <div className="mt-4 flex flex-wrap items-center gap-2">
            <Button disabled={!open.choice.suggested} onClick={() => set(at, open.choice.suggested)}>
              As suggested
            </Button>
            <Button onClick={() => set(at, null)}>The whole picture</Button>
            <Button
              disabled={others.length === 0}
              onClick={() => {
                for (const other of others) set(other.network, crops.get(at) ?? null);
              }}
            >
              The same wherever it fits
            </Button>
            <span className="ml-auto text-faded text-sm" data-crop-size>
              {partOf(at).width} × {partOf(at).height} of {file.width} × {file.height}
            </span>
          </div>
        </div>
        <ul className="flex max-h-[28rem] flex-col gap-1 overflow-y-auto" aria-label="Networks">
          {known.map((k) => (
            <li key={k.network}>
              <PlaceButton
                file={file}
                part={partOf(k.network)}
                choice={k.choice}
                name={names.find((n) => n.key === k.network)?.name ?? k.network}
                isOpen={k.network === at}
                onOpen={() => setAt(k.network)}
              />
            </li>
          ))}
        </ul>
      </div>
      <div className="mt-5 flex items-center justify-end gap-3">
        <span className="mr-auto max-w-md text-faded text-sm">
          The picture itself stays whole. Arrow keys move the frame, Shift with arrow keys sizes it.
        </span>
        <Button onClick={onClose}>Leave it as it was</Button>
        <Button
          variant="primary"
          onClick={() => {
            onDone(crops);
            onClose();
          }}
        >
          Keep these
        </Button>
      </div>
    </>
  );
}

interface PlaceProps {
  file: MediaFile;
  part: Crop;
  choice: CropChoice;
  name: string;
  isOpen: boolean;
  onOpen: () => void;
}

function PlaceButton({ file, part, choice, name, isOpen, onOpen }: PlaceProps) {
  const { id } = useWorkspacePath();
  const trouble = cropTrouble(part, choice);
  // The small picture has other pixels than the file.
  const scale = Math.min(1, 640 / Math.max(file.width, file.height));
  const small = { x: part.x * scale, y: part.y * scale, width: part.width * scale, height: part.height * scale };
  return (
    <button
      type="button"
      aria-pressed={isOpen}
      data-crop-of={choice.network}
      onClick={onOpen}
      className={`flex w-full items-center gap-3 border-l-4 px-2 py-1.5 text-left ${
        isOpen ? 'border-dawn bg-wash' : 'border-transparent hover:bg-wash'
      }`}
    >
      <span className="flex h-16 w-24 shrink-0 items-center justify-center">
        <img
          src={mediaAddress(id, file.id, 640)}
          alt=""
          className="max-h-full max-w-full object-fill"
          style={{
            objectViewBox: viewBoxOf(small),
            aspectRatio: `${part.width} / ${part.height}`,
            [part.width / part.height > 1.5 ? 'width' : 'height']: '100%',
          }}
        />
      </span>
      <span className="min-w-0 text-sm">
        <span className="flex items-center gap-1.5 font-medium">
          <NetworkMark network={choice.network} size={14} /> {name}
          {choice.format === 'story' && <span className="text-faded">story</span>}
        </span>
        <span className="block text-faded">{askedWords(choice)}</span>
        <span className={trouble ? 'block text-bad' : 'block'}>{trouble ? `✕ ${trouble}` : '✓ fits'}</span>
      </span>
    </button>
  );
}
