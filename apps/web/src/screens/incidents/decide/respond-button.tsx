import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useMay } from '../../../data/session';
import { Button, Key } from '../../../ui/button';
import { Respond } from './respond';

/** Opens the responses to one incident or to those that are picked. */
export function RespondButton({ numbers }: { readonly numbers: readonly number[] }) {
  const may = useMay('incidents.respond');
  const [open, setOpen] = useState(false);
  useHotkeys('r', () => setOpen(true), { enabled: may, preventDefault: true });
  if (!may) return null;
  return (
    <>
      <Button className="self-start" onClick={() => setOpen(true)}>
        Respond <Key>R</Key>
      </Button>
      {open && <Respond numbers={numbers} open={open} onOpenChange={setOpen} />}
    </>
  );
}
