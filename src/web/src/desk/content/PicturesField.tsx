import { useRef, useState } from 'react';
import { limits } from '../../api/limits';
import { DropArea } from '../../media/DropArea';
import { MediaChooser } from '../../media/MediaChooser';
import { acceptedKinds, mediaAddress, useMediaFacts } from '../../media/media';
import { UploadLines } from '../../media/UploadLines';
import { type Uploads, useUploads } from '../../media/uploads';
import type { Picture } from '../../posts/content';
import { Button } from '../../ui/Button';
import { FileButton } from '../../ui/FileButton';
import { useWorkspacePath } from '../../workspaces/workspace';

interface Props {
  label: string;
  value: readonly Picture[];
  onChange: (pictures: Picture[]) => void;
  /** Lets one say which part of a picture each network gets. */
  onCrop?: ((media: string) => void) | undefined;
  /** Puts another picture in the place of one. */
  onReplace?: ((media: string, by: string) => void) | undefined;
  /** Those of the part of the page around it, where that takes files too. */
  uploads?: Uploads | undefined;
}

const most = limits.FieldValues.pictures.maxItems;

/** Uploads that become pictures: several come as each is ready, and stand in the order in which they were chosen. */
export function usePictureUploads(value: readonly Picture[], onChange: (pictures: Picture[]) => void): Uploads {
  const latest = useRef(value);
  latest.current = value;
  const keys = useRef(new Map<string, number>());
  const uploads = useUploads((file, key) => {
    const now = latest.current;
    keys.current.set(file.id, key);
    if (now.some((p) => p.media === file.id)) return;
    const at = now.findIndex((p) => (keys.current.get(p.media) ?? -1) > key);
    const before = at < 0 ? now : now.slice(0, at);
    const all = [...before, { media: file.id }, ...now.slice(before.length)].slice(0, most);
    latest.current = all;
    onChange(all);
  });
  return { ...uploads, add: (files) => uploads.add(files.slice(0, most - value.length)) };
}

/** Pictures in their order, each with its alt text: choose files, see them, move them, take them away. */
export function PicturesField({ label, value, onChange, onCrop, onReplace, uploads: around }: Props) {
  const [choosing, setChoosing] = useState(false);
  const [replacing, setReplacing] = useState<string | null>(null);
  const own = usePictureUploads(value, onChange);
  const uploads = around ?? own;
  const replace = (at: number, picture: Picture) => onChange(value.map((p, i) => (i === at ? picture : p)));
  const move = (from: number, to: number) => {
    const [moved] = value.slice(from, from + 1);
    const others = value.filter((_, i) => i !== from);
    if (moved) onChange([...others.slice(0, to), moved, ...others.slice(to)]);
  };
  const room = most - value.length;
  return (
    <DropArea onFiles={uploads.add}>
      <fieldset>
        <legend className="mb-1 text-faded text-sm">{label}</legend>
        <ol className="flex flex-col gap-2">
          {value.map((picture, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: the same picture may stand twice, and is known by its place
            <li key={i} className="flex gap-2" data-picture={picture.media}>
              <SmallPicture media={picture.media} onPress={onCrop && (() => onCrop(picture.media))} at={i} />
              <div className="min-w-0 flex-1">
                <AltText at={i} picture={picture} onChange={(altText) => replace(i, { ...picture, altText })} />
                <div className="mt-1 flex flex-wrap items-center gap-1 text-sm">
                  <Button
                    variant="quiet"
                    aria-label={`Picture ${i + 1} further forward`}
                    disabled={i === 0}
                    onClick={() => move(i, i - 1)}
                    className="!px-2"
                  >
                    ↑
                  </Button>
                  <Button
                    variant="quiet"
                    aria-label={`Picture ${i + 1} further back`}
                    disabled={i === value.length - 1}
                    onClick={() => move(i, i + 1)}
                    className="!px-2"
                  >
                    ↓
                  </Button>
                  {onCrop && (
                    <Button
                      variant="quiet"
                      className="!px-2"
                      aria-label={`Crop picture ${i + 1}`}
                      onClick={() => onCrop(picture.media)}
                    >
                      Crop
                    </Button>
                  )}
                  {onReplace && (
                    <Button
                      variant="quiet"
                      className="!px-2"
                      aria-label={`Replace picture ${i + 1}`}
                      onClick={() => setReplacing(picture.media)}
                    >
                      Replace
                    </Button>
                  )}
                  <Button
                    variant="quiet"
                    className="!px-2"
                    aria-label={`Take it away: picture ${i + 1}`}
                    onClick={() => onChange(value.filter((_, other) => other !== i))}
                  >
                    Take it away
                  </Button>
                  {picture.crop && <span className="ml-auto text-faded">Cropped</span>}
                </div>
              </div>
            </li>
          ))}
        </ol>
        <UploadLines uploads={uploads} />
        {room > 0 && (
          <div className={`flex flex-wrap items-center gap-2 ${value.length > 0 ? 'mt-2' : ''}`}>
            <FileButton
              label={value.length === 0 ? 'Choose pictures' : 'Add pictures'}
              accept={acceptedKinds.picture}
              multiple
              onFiles={uploads.add}
            />
            <Button variant="quiet" onClick={() => setChoosing(true)}>
              From the media …
            </Button>
          </div>
        )}
        {choosing && (
          <MediaChooser
            sort="picture"
            most={room}
            onClose={() => setChoosing(false)}
            onChosen={(files) => onChange([...value, ...files.map((f) => ({ media: f.id }))].slice(0, most))}
          />
        )}
        {replacing && onReplace && (
          <MediaChooser
            sort="picture"
            most={1}
            onClose={() => setReplacing(null)}
            onChosen={([file]) => file && onReplace(replacing, file.id)}
          />
        )}
      </fieldset>
    </DropArea>
  );
}

function SmallPicture({ media, onPress, at }: { media: string; onPress: (() => void) | undefined; at: number }) {
  const { id } = useWorkspacePath();
  const image = <img src={mediaAddress(id, media, 160)} alt="" className="h-16 w-20 rounded-sm bg-wash object-cover" />;
  return onPress ? (
    <button
      type="button"
      className="h-16 shrink-0"
      aria-label={`Picture ${at + 1}: what each network gets of it`}
      onClick={onPress}
    >
      {image}
    </button>
  ) : (
    <span className="shrink-0">{image}</span>
  );
}

interface AltProps {
  at: number;
  picture: Picture;
  onChange: (words: string | null) => void;
}

/** What the post says of the picture; else what is kept with the file. */
function AltText({ at, picture, onChange }: AltProps) {
  const kept = useMediaFacts(picture.media).data?.altText;
  return (
    <input
      className="field"
      aria-label={`Alt text of picture ${at + 1}`}
      placeholder={kept || 'In words, for those who can’t see it'}
      maxLength={limits.MediaRequest.altText.maxLength}
      value={picture.altText ?? ''}
      onChange={(e) => onChange(e.target.value || null)}
    />
  );
}
