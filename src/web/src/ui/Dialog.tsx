import { Dialog as Primitive } from 'radix-ui';
import type { ReactNode } from 'react';
import { useOpener } from './opener';

interface Props {
  open: boolean;
  title: string;
  /** Read out, not shown: for a dialog whose content says it already. */
  titleHidden?: boolean;
  description?: string;
  /** Left out where nothing but the dialog's own act may close it. */
  onClose?: () => void;
  className?: string;
  children: ReactNode;
}

/** Something to be scheduled before the view behind it can go on. */
export function Dialog({
  open,
  title,
  titleHidden,
  description,
  onClose,
  className = 'w-[34rem] p-6',
  children,
}: Props) {
  const opener = useOpener();
  return (
    <Primitive.Root open={open} onOpenChange={(next) => !next && onClose?.()}>
      <Primitive.Portal>
        <Primitive.Overlay className="fixed inset-0 z-40 bg-black/30" />
        <Primitive.Content
          {...opener}
          {...(description ? {} : { 'aria-describedby': undefined })}
          className={`fixed top-28 left-1/2 z-50 max-h-[calc(100vh-8rem)] max-w-[calc(100vw-2rem)] -translate-x-1/2 overflow-y-auto rounded-md border border-rule-strong bg-leaf ${className}`}
        >
          <Primitive.Title className={titleHidden ? 'sr-only' : 'mb-1 font-head text-[1.2rem]'}>
            {title}
          </Primitive.Title>
          {description && <Primitive.Description className="mb-4 text-faded">{description}</Primitive.Description>}
          {children}
        </Primitive.Content>
      </Primitive.Portal>
    </Primitive.Root>
  );
}
