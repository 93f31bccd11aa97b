import { useState } from 'react';
import { DropArea } from '../../media/DropArea';
import { MediaChooser } from '../../media/MediaChooser';
import { acceptedKinds, factsWords, isPicture, type MediaSort, mediaAddress, useMediaFacts } from '../../media/media';
import { UploadLines } from '../../media/UploadLines';
import { useUploads } from '../../media/uploads';
import type { FieldKey } from '../../posts/content';
import { Button } from '../../ui/Button';
import { FileButton } from '../../ui/FileButton';
import { useWorkspacePath } from '../../workspaces/workspace';

interface Props {
  field: FieldKey;
  label: string;
  value: string | null;
  onChange: (media: string | null) => void;
}

const sorts: Partial<Record<FieldKey, MediaSort>> = { video: 'video', document: 'document' };

/** One file: a video, a document, a card’s picture. */
export function FileField({ field, label, value, onChange }: Props) {
  const sort = sorts[field] ?? 'picture';
  const uploads = useUploads((file) => onChange(file.id));
  const [choosing, setChoosing] = useState(false);
  return (
    <DropArea onFiles={(files) => uploads.add(files.slice(0, 1))}>
      <fieldset data-file={field}>
        <legend className="mb-1 text-faded text-sm">{label}</legend>
        {value && <Shown media={value} />}
        <UploadLines uploads={uploads} />
        <div className="mt-1 flex flex-wrap items-center gap-2">
          <FileButton
            label={value ? 'Another file' : 'Choose a file'}
            accept={acceptedKinds[sort]}
            onFiles={(files) => uploads.add(files)}
          />
          <Button variant="quiet" onClick={() => setChoosing(true)}>
            From the media …
          </Button>
          {value && (
            <Button variant="quiet" onClick={() => onChange(null)}>
              Take it away
            </Button>
          )}
        </div>
        {choosing && (
          <MediaChooser
            sort={sort}
            most={1}
            onClose={() => setChoosing(false)}
            onChosen={([file]) => file && onChange(file.id)}
          />
        )}
      </fieldset>
    </DropArea>
  );
}

function Shown({ media }: { media: string }) {
  const { id } = useWorkspacePath();
  const facts = useMediaFacts(media).data;
  if (!facts) return null;
  if (isPicture(facts)) return <img src={mediaAddress(id, media, 320)} alt="" className="max-h-32 rounded-sm" />;
  return (
    <p className="flex items-center gap-3 text-sm">
      {facts.hasPoster && <img src={mediaAddress(id, media, 160)} alt="" className="max-h-20 rounded-sm" />}
      <span>
        <a href={mediaAddress(id, media)} className="link" target="_blank" rel="noreferrer">
          {facts.fileName}
        </a>{' '}
        <span className="text-faded">{factsWords(facts)}</span>
      </span>
    </p>
  );
}
