import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';
import { useOpener } from './opener';

interface Props {
  open: boolean;
  title: string;
  onClose: () => void;
  children: ReactNode;
}

/** A leaf at the right edge; the view beside it stays in sight and in use. */
export function Sheet({ open, title, onClose, children }: Props) {
  const opener = useOpener();
  return (
    <Dialog.Root open={open} modal={false} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        <Dialog.Content
          {...opener}
          aria-describedby={undefined}
          onInteractOutside={(event) => event.preventDefault()}
          data-sheet
          className="fixed top-(--head) right-0 bottom-0 z-10 flex w-(--sheet) flex-col border-rule-strong border-l bg-leaf"
        >
          <header className="flex items-start justify-between gap-4 border-rule border-b px-5 py-4">
            <Dialog.Title className="font-head text-[1.2rem] leading-tight">{title}</Dialog.Title>
            <Dialog.Close className="rounded-md px-2 py-0.5 hover:bg-wash" aria-label="Close">
              ✕
            </Dialog.Close>
          </header>
          <div className="flex-1 overflow-y-auto px-5 pt-4 pb-[calc(1rem+var(--foot,0px))]">{children}</div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
