import { useState } from 'react';
import { Button } from '../ui/Button';
import { Dialog } from '../ui/Dialog';
import { FileButton } from '../ui/FileButton';
import { Fetched } from '../ui/States';
import { DropArea } from './DropArea';
import { MediaFilters, MediaGrid } from './MediaGrid';
import { acceptedKinds, anyMedia, type MediaFile, type MediaSort, useMediaList } from './media';
import { UploadLines } from './UploadLines';
import { useUploads } from './uploads';

interface Props {
  sort: MediaSort;
  /** Most that may be chosen. */
  most: number;
  onChosen: (files: MediaFile[]) => void;
  onClose: () => void;
}

const nouns: Record<MediaSort, [string, string]> = {
  picture: ['picture', 'pictures'],
  video: ['video', 'videos'],
  document: ['document', 'documents'],
};

/** Chooses among the workspace’s files, or adds some to them. */
export function MediaChooser({ sort, most, onChosen, onClose }: Props) {
  const [filter, setFilter] = useState({ ...anyMedia, sort });
  const [chosen, setChosen] = useState<readonly MediaFile[]>([]);
  const list = useMediaList(filter);
  const choose = (file: MediaFile) =>
    setChosen((before) =>
      before.some((f) => f.id === file.id)
        ? before.filter((f) => f.id !== file.id)
        : most === 1
          ? [file]
          : [...before, file].slice(0, most),
    );
  const uploads = useUploads((file) => setChosen((before) => (most === 1 ? [file] : [...before, file].slice(0, most))));
  const [one, many] = nouns[sort];
  return (
    <Dialog
      open
      title={most === 1 ? `Choose a ${one}` : `Choose ${many}`}
      onClose={onClose}
      className="w-[52rem] p-5 !top-20"
    >
      <DropArea onFiles={uploads.add} pastedAnywhere>
        <div className="my-3 flex flex-wrap items-center gap-3">
          <MediaFilters
            filter={filter}
            sort={sort}
            onChange={(name, value) => setFilter((before) => ({ ...before, [name]: value }))}
          />
          <span className="ml-auto">
            <FileButton label="Add files" accept={acceptedKinds[sort]} multiple={most > 1} onFiles={uploads.add} />
          </span>
        </div>
        <UploadLines uploads={uploads} />
        <div className="h-[22rem] overflow-y-auto pr-2" data-chooser>
          <Fetched query={list} what="the files">
            {() => (
              <MediaGrid
                list={list}
                chosen={(item) => chosen.some((f) => f.id === item.file.id)}
                onChoose={(item) => choose(item.file)}
              />
            )}
          </Fetched>
          {list.data?.pages[0]?.total === 0 && (
            <p className="py-10 text-center text-faded">Nothing here yet: add files, drop them here, or paste them.</p>
          )}
        </div>
      </DropArea>
      <div className="mt-4 flex items-center justify-end gap-3">
        <span className="mr-auto text-faded text-sm">
          {chosen.length > 0 ? chosen.map((f) => f.fileName).join(', ') : 'Dropping and pasting works here too.'}
        </span>
        <Button onClick={onClose}>Leave it</Button>
        <Button
          variant="primary"
          disabled={chosen.length === 0}
          onClick={() => {
            onChosen([...chosen]);
            onClose();
          }}
        >
          {chosen.length > 1 ? `Take these ${chosen.length}` : 'Take it'}
        </Button>
      </div>
    </Dialog>
  );
}
