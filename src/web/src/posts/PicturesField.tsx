import { wordsOf } from '../api/client';
import { limits } from '../api/limits';
import { mediaAddress, useAddMedia } from '../media/media';
import { Button } from '../ui/Button';
import { FileButton } from '../ui/FileButton';
import { Progress } from '../ui/Progress';
import { useWorkspacePath } from '../workspaces/workspace';
import type { Picture } from './content';

interface Props {
  label: string;
  value: readonly Picture[];
  onChange: (pictures: Picture[]) => void;
}

const kinds = 'image/png,image/jpeg,image/webp,image/gif';
const most = limits.FieldValues.pictures.maxItems;

/** Pictures in their order, each with its alt text: choose files, see them, move them, take them away. */
export function PicturesField({ label, value, onChange }: Props) {
  const { id: workspace } = useWorkspacePath();
  const add = useAddMedia();
  const replace = (at: number, picture: Picture) => onChange(value.map((p, i) => (i === at ? picture : p)));
  const move = (from: number, to: number) => {
    const [moved] = value.slice(from, from + 1);
    const others = value.filter((_, i) => i !== from);
    if (moved) onChange([...others.slice(0, to), moved, ...others.slice(to)]);
  };
  const addAll = async (files: File[]) => {
    let all = [...value];
    for (const file of files.slice(0, most - value.length)) {
      const media = await add.mutateAsync({ file }).catch(() => null);
      if (!media) return;
      all = [...all, { media: media.id }];
      onChange(all);
    }
  };
  return (
    <fieldset>
      <legend className="mb-1 text-faded text-sm">{label}</legend>
      <ol className="flex flex-col gap-2">
        {value.map((picture, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the same picture may stand twice, and is known by its place
          <li key={i} className="flex gap-2" data-picture={picture.media}>
            <img
              src={mediaAddress(workspace, picture.media)}
              alt=""
              className="h-16 w-20 shrink-0 rounded-sm bg-wash object-cover"
            />
            <div className="min-w-0 flex-1">
              <input
                className="field"
                aria-label={`Alt text of picture ${i + 1}`}
                placeholder="In words, for those who can’t see it"
                maxLength={limits.MediaRequest.altText.maxLength}
                value={picture.altText ?? ''}
                onChange={(e) => replace(i, { ...picture, altText: e.target.value || null })}
              />
              <div className="mt-1 flex items-center gap-1 text-sm">
                <Button
                  variant="quiet"
                  aria-label={`Picture ${i + 1} further forward`}
                  disabled={i === 0}
                  onClick={() => move(i, i - 1)}
                >
                  ↑
                </Button>
                <Button
                  variant="quiet"
                  aria-label={`Picture ${i + 1} further back`}
                  disabled={i === value.length - 1}
                  onClick={() => move(i, i + 1)}
                >
                  ↓
                </Button>
                <Button
                  variant="quiet"
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
      {value.length < most && (
        <div className={value.length > 0 ? 'mt-2' : ''}>
          <FileButton
            label={value.length === 0 ? 'Choose pictures' : 'Add pictures'}
            accept={kinds}
            multiple
            onFiles={(files) => void addAll(files)}
          />
        </div>
      )}
      {add.isPending && <Progress words="Adding the picture" share={null} />}
      {add.error && (
        <p role="alert" className="mt-1 text-bad text-sm">
          {wordsOf(add.error)}
        </p>
      )}
    </fieldset>
  );
}
