import { type ReactNode, useEffect, useRef } from 'react';
import { SearchBox } from '../ui/SearchBox';
import { Select } from '../ui/Select';
import { factsWords, type MediaFilter, type MediaItem, type MediaSort, type useMediaList } from './media';
import { Thumb } from './Thumb';

const sorts = [
  { value: 'picture', label: 'Pictures' },
  { value: 'video', label: 'Videos' },
  { value: 'document', label: 'Documents' },
];
const shapes = [
  { value: 'upright', label: 'Upright' },
  { value: 'square', label: 'Square' },
  { value: 'wide', label: 'Wide' },
];
const uses = [
  { value: 'used', label: 'Used' },
  { value: 'never', label: 'Never used' },
];

interface FilterProps {
  filter: MediaFilter;
  /** Where only one kind will do. */
  sort?: MediaSort | undefined;
  onChange: (name: keyof MediaFilter, value: string) => void;
}

/** Narrows which files are shown. */
export function MediaFilters({ filter, sort, onChange }: FilterProps) {
  return (
    <>
      <SearchBox
        label="Find by name or alt text"
        placeholder="Name or alt text"
        value={filter.search}
        onChange={(value) => onChange('search', value)}
      />
      {!sort && (
        <div className="w-36">
          <Select
            aria-label="Only this kind"
            none="All kinds"
            value={filter.sort}
            options={sorts}
            onChange={(v) => onChange('sort', v)}
          />
        </div>
      )}
      {sort !== 'document' && (
        <div className="w-36">
          <Select
            aria-label="Only this shape"
            none="All shapes"
            value={filter.shape}
            options={shapes}
            onChange={(v) => onChange('shape', v)}
          />
        </div>
      )}
      <div className="w-40">
        <Select
          aria-label="Used or never"
          none="Used or never"
          value={filter.use}
          options={uses}
          onChange={(v) => onChange('use', v)}
        />
      </div>
    </>
  );
}

interface Props {
  list: ReturnType<typeof useMediaList>;
  chosen: (item: MediaItem) => boolean;
  onChoose: (item: MediaItem) => void;
  /** What stands beside a file's name. */
  beside?: (item: MediaItem) => ReactNode;
}

/** Files side by side, each in its own shape, like prints on a sheet. Further ones come as one scrolls. */
export function MediaGrid({ list, chosen, onChoose, beside }: Props) {
  const items = list.data?.pages.flatMap((page) => page.items) ?? [];
  return (
    <>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(9.5rem,1fr))] gap-x-4 gap-y-5" data-media-grid>
        {items.map((item) => (
          <li key={item.file.id} className="min-w-0 [content-visibility:auto] [contain-intrinsic-size:auto_9.5rem]">
            <button
              type="button"
              aria-pressed={chosen(item)}
              data-media={item.file.id}
              onClick={() => onChoose(item)}
              className="group block w-full text-left"
            >
              <span
                className={`block h-28 border-b-[1.5px] bg-wash p-1.5 ${
                  chosen(item) ? 'border-dawn outline-2 outline-dawn' : 'border-ink group-hover:border-dawn'
                }`}
              >
                <Thumb file={item.file} />
              </span>
              <span className="mt-1 block truncate font-medium text-sm" title={item.file.fileName}>
                {item.file.fileName}
              </span>
              <span className="block truncate text-faded text-xs">{factsWords(item.file)}</span>
            </button>
            {beside?.(item)}
          </li>
        ))}
      </ul>
      {list.hasNextPage && <More list={list} />}
    </>
  );
}

function More({ list }: { list: Props['list'] }) {
  const end = useRef<HTMLButtonElement>(null);
  const { fetchNextPage, isFetchingNextPage } = list;
  useEffect(() => {
    const seen = new IntersectionObserver(([entry]) => entry?.isIntersecting && void fetchNextPage(), {
      rootMargin: '600px',
    });
    if (end.current) seen.observe(end.current);
    return () => seen.disconnect();
  }, [fetchNextPage]);
  return (
    <button
      ref={end}
      type="button"
      className="link mt-4 min-h-6"
      disabled={isFetchingNextPage}
      onClick={() => void fetchNextPage()}
    >
      {isFetchingNextPage ? 'Further files are coming …' : 'Show further files'}
    </button>
  );
}
