import { Popover as Primitive } from 'radix-ui';
import type { ReactNode } from 'react';

interface Props {
  trigger: ReactNode;
  children: ReactNode;
  label: string;
  open?: boolean;
  onOpenChange?: (open: boolean) => void;
  /** Says where the focus goes when it is shut, in place of what opened it. */
  onCloseAutoFocus?: (event: Event) => void;
}

/** A small leaf beside what opened it, for a choice or an answer that the view can wait for. */
export function Popover({ trigger, children, label, onCloseAutoFocus, ...rest }: Props) {
  return (
    <Primitive.Root {...rest}>
      <Primitive.Trigger asChild>{trigger}</Primitive.Trigger>
      <Primitive.Portal>
        <Primitive.Content
          aria-label={label}
          align="start"
          sideOffset={4}
          collisionPadding={8}
          {...(onCloseAutoFocus && { onCloseAutoFocus })}
          className="z-40 rounded-md border border-rule-strong bg-leaf p-3 shadow-lg"
        >
          {children}
        </Primitive.Content>
      </Primitive.Portal>
    </Primitive.Root>
  );
}
