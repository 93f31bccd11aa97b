import { wordsOf } from '../api/client';
import { mediaAddress, useAddMedia } from '../media/media';
import { Button } from '../ui/Button';
import { FileButton } from '../ui/FileButton';
import { Progress } from '../ui/Progress';
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
  return (
    <div>
      <span className="mb-1 block text-faded text-sm">{label}</span>
      {value && <img src={mediaAddress(workspace, value)} alt="" className="mb-2 max-h-40 rounded-sm" />}
      <div className="flex items-center gap-2">
        <FileButton
          label={value ? 'Another picture' : 'Choose a picture'}
          accept={kinds}
          onFiles={([file]) => file && add.mutate(file, { onSuccess: (media) => onChange(media.id) })}
        />
        {value && (
          <Button variant="quiet" onClick={() => onChange(null)}>
            Take it away
          </Button>
        )}
      </div>
      {add.isPending && <Progress words="Adding the picture" share={null} />}
      {add.error && (
        <p role="alert" className="mt-1 text-bad text-sm">
          {wordsOf(add.error)}
        </p>
      )}
    </div>
  );
}
