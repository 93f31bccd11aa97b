import { useId } from 'react';
import { wordsOf } from '../api/client';
import { mediaAddress, useAddMedia } from '../media/media';
import { Button } from '../ui/Button';
import { useWorkspacePath } from '../workspaces/workspace';

interface Props {
  label: string;
  value: string | null;
  onChange: (mediaId: string | null) => void;
}

const kinds = 'image/png,image/jpeg,image/webp,image/gif';

/** One picture: choose a file, see it, take it away. */
export function PicturePicker({ label, value, onChange }: Props) {
  const { id: workspace } = useWorkspacePath();
  const add = useAddMedia();
  const inputId = useId();
  return (
    <div>
      <label htmlFor={inputId} className="mb-1 block text-faded text-sm">
        {label}
      </label>
      {value && <img src={mediaAddress(workspace, value)} alt="" className="mb-2 max-h-40 rounded-sm" />}
      <div className="flex items-center gap-2">
        <input
          id={inputId}
          type="file"
          accept={kinds}
          className="text-sm file:mr-2 file:rounded-md file:border-[1.5px] file:border-rule-strong file:bg-leaf file:px-3 file:py-1"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) add.mutate(file, { onSuccess: (media) => onChange(media.id) });
            event.target.value = '';
          }}
        />
        {value && (
          <Button look="quiet" onClick={() => onChange(null)}>
            Take it away
          </Button>
        )}
      </div>
      {add.isPending && <p className="mt-1 text-faded text-sm">Adding the picture …</p>}
      {add.error && (
        <p role="alert" className="mt-1 text-bad text-sm">
          {wordsOf(add.error)}
        </p>
      )}
    </div>
  );
}
