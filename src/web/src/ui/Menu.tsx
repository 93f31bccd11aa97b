import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';

interface Props {
  /** Says, to who can't see it, what the words on the trigger are the menu of. */
  label: string;
  trigger: ReactNode;
  triggerClass?: string;
  align?: 'start' | 'end';
  onOpenChange?: (open: boolean) => void;
  children: ReactNode;
}

export function Menu({ label, trigger, triggerClass = '', align = 'start', onOpenChange, children }: Props) {
  return (
    <DropdownMenu.Root modal={false} {...(onOpenChange ? { onOpenChange } : {})}>
      <DropdownMenu.Trigger className={`rounded-md px-2 py-1 hover:bg-wash ${triggerClass}`}>
        <span className="sr-only">{label} </span>
        {trigger}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align={align}
          sideOffset={6}
          className="z-40 min-w-56 rounded-md border border-rule-strong bg-leaf p-1 shadow-lg"
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

export function MenuItem({
  onSelect,
  disabled,
  stays = false,
  children,
}: {
  onSelect: () => void;
  disabled?: boolean;
  /** True: the menu stays open, to show what comes next. */
  stays?: boolean;
  children: ReactNode;
}) {
  return (
    <DropdownMenu.Item
      disabled={disabled ?? false}
      onSelect={(event) => {
        if (stays) event.preventDefault();
        onSelect();
      }}
      className="flex cursor-pointer items-center gap-2 rounded-sm px-3 py-1.5 outline-none data-[highlighted]:bg-wash data-[disabled]:opacity-50"
    >
      {children}
    </DropdownMenu.Item>
  );
}

export function MenuText({ children }: { children: ReactNode }) {
  return <DropdownMenu.Label className="px-3 py-1.5 text-faded text-sm">{children}</DropdownMenu.Label>;
}
