import { useSearchParams } from 'react-router';
import { type Tab, Tabs } from '../ui/Tabs';
import { CategoriesSection } from './CategoriesSection';
import { ChannelsSection } from './ChannelsSection';
import { KeyDatesSection } from './KeyDatesSection';
import { TokensSection } from './TokensSection';
import { WorkspaceSection } from './WorkspaceSection';

type Part = 'channels' | 'categories' | 'dates' | 'time' | 'tokens';

const parts: readonly Tab<Part>[] = [
  { value: 'channels', label: 'Channels', content: <ChannelsSection /> },
  { value: 'categories', label: 'Categories', content: <CategoriesSection /> },
  { value: 'dates', label: 'Key dates', content: <KeyDatesSection /> },
  { value: 'time', label: 'Name and time', content: <WorkspaceSection /> },
  { value: 'tokens', label: 'Tokens for scripts', content: <TokensSection /> },
];

/** What a workspace is made of; the open part is kept in the address bar. */
export function SetUp() {
  const [search, setSearch] = useSearchParams();
  const open = parts.find((part) => part.value === search.get('part'))?.value ?? 'channels';
  return (
    <>
      <h1 className="mb-4">Set-up</h1>
      <Tabs label="Parts of the set-up" value={open} tabs={parts} onChange={(part) => setSearch({ part })} />
    </>
  );
}
