import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { DropArea } from '../media/DropArea';
import { MediaFilters, MediaGrid } from '../media/MediaGrid';
import { acceptedKinds, type MediaFilter, type MediaItem, useMediaList, useRemoveMedia } from '../media/media';
import { UploadLines } from '../media/UploadLines';
import { useUploads } from '../media/uploads';
import { instantDay } from '../time/dates';
import { Button } from '../ui/Button';
import { Checkbox } from '../ui/Checkbox';
import { FileButton } from '../ui/FileButton';
import { Empty, Fetched } from '../ui/States';
import { useWorkspace } from '../workspaces/workspace';
import { MediaSheet } from './MediaSheet';

const every = Object.values(acceptedKinds).join(',');

/** Pictures, videos and documents of the workspace. */
export function MediaPage() {
  const [search, setSearch] = useSearchParams();
  const filter: MediaFilter = {
    search: search.get('search') ?? '',
    sort: search.get('sort') ?? '',
    shape: search.get('shape') ?? '',
    use: search.get('use') ?? '',
  };
  const shown = search.get('file');
  const set = (name: string, value: string) =>
    setSearch(
      (before) => {
        value ? before.set(name, value) : before.delete(name);
        return before;
      },
      { replace: true },
    );
  const list = useMediaList(filter);
  const uploads = useUploads(() => {});
  const remove = useRemoveMedia();
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  const isNarrowed = Object.values(filter).some(Boolean);
  const total = list.data?.pages[0]?.total ?? 0;

  return (
    <DropArea onFiles={uploads.add} pastedAnywhere className="min-h-[60vh]">
      <div className="mb-4 flex flex-wrap items-center gap-3">
        <h1>Media</h1>
        <MediaFilters filter={filter} onChange={set} />
        <span className="ml-auto flex items-center gap-2">
          {marked.size > 0 && (
            <Button
              disabled={remove.isPending}
              onClick={() => remove.mutate([...marked], { onSuccess: () => setMarked(new Set()) })}
            >
              Remove {marked.size} unused
            </Button>
          )}
          <FileButton label="Add files" accept={every} multiple onFiles={uploads.add} />
        </span>
      </div>
      <UploadLines uploads={uploads} />
      <Fetched query={list} what="the files">
        {() =>
          total === 0 ? (
            <Empty title={isNarrowed ? 'No file is like that' : 'No files yet'}>
              {isNarrowed
                ? 'Try other words, or another kind or shape.'
                : 'Add pictures, videos and documents, drop them here or paste them. Posts choose from them.'}
            </Empty>
          ) : (
            <>
              <p className="mb-3 text-faded text-sm" data-total={total}>
                {total.toLocaleString('en-GB')} {total === 1 ? 'file' : 'files'}, the newest first
              </p>
              <MediaGrid
                list={list}
                chosen={(item) => item.file.id === shown}
                onChoose={(item) => set('file', item.file.id === shown ? '' : item.file.id)}
                beside={(item) => (
                  <Use
                    item={item}
                    marked={marked.has(item.file.id)}
                    onMark={(on) =>
                      setMarked((before) => {
                        const after = new Set(before);
                        on ? after.add(item.file.id) : after.delete(item.file.id);
                        return after;
                      })
                    }
                  />
                )}
              />
            </>
          )
        }
      </Fetched>
      {shown && <MediaSheet media={shown} onClose={() => set('file', '')} />}
    </DropArea>
  );
}

interface UseProps {
  item: MediaItem;
  marked: boolean;
  onMark: (on: boolean) => void;
}

/** How much it is used; what isn’t can be marked to be removed. */
function Use({ item, marked, onMark }: UseProps) {
  const zone = useWorkspace().data?.zone ?? 'UTC';
  if (item.posts === 0 && !item.lastSentAt)
    return (
      <span className="text-xs">
        <Checkbox checked={marked} onChange={onMark} aria-label={`Never used: mark ${item.file.fileName}`}>
          Never used
        </Checkbox>
      </span>
    );
  return (
    <p className="truncate text-xs">
      In {item.posts} {item.posts === 1 ? 'post' : 'posts'}
      {item.lastSentAt && <span className="text-faded"> · sent {instantDay(item.lastSentAt, zone)}</span>}
    </p>
  );
}
