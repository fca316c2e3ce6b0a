import { Popover } from 'radix-ui';
import type { ReactNode } from 'react';

interface Props {
  readonly trigger: ReactNode;
  readonly label: string;
  readonly children: ReactNode;
  readonly wide?: boolean;
}

/** A part of a sentence or a button that opens a small editor beside it. Focus returns where it was. */
export function EditorPopover({ trigger, label, children, wide = false }: Props) {
  return (
    <Popover.Root>
      <Popover.Trigger asChild>{trigger}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          collisionPadding={12}
          aria-label={label}
          className={`z-40 rounded border border-rule-strong bg-sheet p-3 shadow-[0_6px_24px_rgba(29,36,48,0.18)] ${wide ? 'w-96' : 'w-72'}`}
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
