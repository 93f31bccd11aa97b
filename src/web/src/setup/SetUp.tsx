import { CategoriesSection } from './CategoriesSection';
import { ChannelsSection } from './ChannelsSection';
import { WorkspaceSection } from './WorkspaceSection';

/** What a workspace is made of: channels, categories, time. */
export function SetUp() {
  return (
    <>
      <h1 className="mb-4">Set-up</h1>
      <div className="grid grid-cols-[1fr_1fr] gap-x-12 gap-y-10">
        <ChannelsSection />
        <CategoriesSection />
        <WorkspaceSection />
      </div>
    </>
  );
}
