import { Tooltip } from 'radix-ui';
import type { ReactNode } from 'react';

/** A few words, or a short list, beside what is pointed at or focused. */
export function Tip({ content, children }: { content: ReactNode; children: ReactNode }) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          sideOffset={4}
          collisionPadding={8}
          className="z-40 rounded-md border border-rule-strong bg-leaf px-3 py-2 text-sm shadow-lg"
        >
          {content}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

export const TipProvider = ({ children }: { children: ReactNode }) => (
  <Tooltip.Provider delayDuration={350}>{children}</Tooltip.Provider>
);
