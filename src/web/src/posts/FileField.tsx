import { useState } from 'react';
import { wordsOf } from '../api/client';
import { mediaAddress, useAddMedia, useMediaFacts, videoFacts } from '../media/media';
import { Button } from '../ui/Button';
import { FileButton } from '../ui/FileButton';
import { Progress } from '../ui/Progress';
import { useWorkspacePath } from '../workspaces/workspace';
import type { FieldKey } from './content';

interface Props {
  field: FieldKey;
  label: string;
  value: string | null;
  onChange: (media: string | null) => void;
}

const kinds: Partial<Record<FieldKey, string>> = { video: 'video/mp4', document: 'application/pdf' };
const pictures = 'image/png,image/jpeg,image/webp,image/gif';

/** One file: a video, a document, a card's picture. What a video is like its file tells; of a document one says the pages. */
export function FileField({ field, label, value, onChange }: Props) {
  const add = useAddMedia();
  const [pages, setPages] = useState(1);
  const [trouble, setTrouble] = useState<string | null>(null);
  const addFile = async (file: File) => {
    setTrouble(null);
    try {
      const facts = field === 'video' ? await videoFacts(file) : field === 'document' ? { pages } : {};
      const media = await add.mutateAsync({ file, facts });
      onChange(media.id);
    } catch (error) {
      setTrouble(wordsOf(error));
    }
  };
  return (
    <fieldset data-file={field}>
      <legend className="mb-1 text-faded text-sm">{label}</legend>
      {value && <Shown media={value} />}
      <div className="mt-1 flex flex-wrap items-center gap-2">
        {field === 'document' && !value && (
          <label className="flex items-center gap-2 text-sm">
            Pages
            <input
              type="number"
              min={1}
              className="field !w-20"
              value={pages}
              onChange={(e) => setPages(e.target.valueAsNumber || 1)}
            />
          </label>
        )}
        <FileButton
          label={value ? 'Another file' : 'Choose a file'}
          accept={kinds[field] ?? pictures}
          onFiles={([file]) => file && void addFile(file)}
        />
        {value && (
          <Button variant="quiet" onClick={() => onChange(null)}>
            Take it away
          </Button>
        )}
      </div>
      {add.isPending && <Progress words="Adding the file" share={null} />}
      {trouble && (
        <p role="alert" className="mt-1 text-bad text-sm">
          {trouble}
        </p>
      )}
    </fieldset>
  );
}

function Shown({ media }: { media: string }) {
  const { id } = useWorkspacePath();
  const facts = useMediaFacts(media).data;
  if (!facts) return null;
  if (facts.kind.startsWith('image/'))
    return <img src={mediaAddress(id, media)} alt="" className="max-h-32 rounded-sm" />;
  return (
    <p className="text-sm">
      <a href={mediaAddress(id, media)} className="link" target="_blank" rel="noreferrer">
        {facts.fileName}
      </a>{' '}
      <span className="text-faded">
        {facts.seconds !== null
          ? `${facts.width} × ${facts.height}, ${Math.round(facts.seconds)} s`
          : `${facts.pages} ${facts.pages === 1 ? 'page' : 'pages'}`}
      </span>
    </p>
  );
}
