import { Dialog } from 'radix-ui';
import { useLocation } from 'react-router';
import { Button, Key } from '../ui/button';

type Keys = readonly (readonly [string, string])[];

const EVERYWHERE: Keys = [
  ['Ctrl K', 'search or run a command'],
  ['L', 'open or close the Lantern'],
  ['?', 'show these keys'],
];

const INCIDENTS: Keys = [
  ['J', 'next incident'],
  ['K', 'previous incident'],
  ['Y', 'it is what we look for'],
  ['N', 'it is not what we look for'],
  ['U', 'it was all right to move it'],
  ['M', 'it was not all right to move it'],
  ['1 2 3', 'cause of harm: a slip, did not know, meant it'],
  ['T', 'assign to me'],
  ['W', 'wait for the person'],
  ['Z', 'undo: open it again'],
  ['C', 'write a note'],
  ['H', 'hand the incident on'],
  ['R', 'tell or ask people, open a ticket'],
  ['E O A P', 'evidence, around, look-alikes, case'],
  ['X', 'pick the row or the group'],
  ['Shift X', 'pick everything under the filter'],
  ['Enter', 'open or close a group'],
  ['Esc', 'clear what is picked'],
  ['Shift Z', 'undo the last decision together'],
  ['F', 'add a filter'],
  ['/', 'search the queue'],
];

const INSIGHT: Keys = [
  ['← →', 'from bar to bar, once the chart has the focus'],
  ['Home End', 'first and last bar'],
  ['Enter', 'open what the bar counts'],
];

interface Props {
  readonly open: boolean;
  readonly onOpenChange: (open: boolean) => void;
}

export function KeyHelp({ open, onOpenChange }: Props) {
  const { pathname } = useLocation();
  const here = pathname.startsWith('/incidents') ? INCIDENTS : pathname === '/insight' ? INSIGHT : [];
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/30" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-24 left-1/2 z-50 w-[420px] -translate-x-1/2 rounded border border-rule-strong bg-sheet p-5 shadow-xl"
        >
          <Dialog.Title className="mb-3 font-head text-[17px] font-semibold">Keys</Dialog.Title>
          <dl className="grid grid-cols-[90px_1fr] gap-y-1.5">
            {[...here, ...EVERYWHERE].map(([key, what]) => (
              <div key={key} className="contents">
                <dt>
                  <Key>{key}</Key>
                </dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
          <Dialog.Close asChild>
            <Button className="mt-4">Close</Button>
          </Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
