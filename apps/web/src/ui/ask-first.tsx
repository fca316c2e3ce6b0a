import { useState } from 'react';
import { Button } from './button';
import { Notice } from './notice';

interface Props {
  /** What the button says. */
  readonly name: string;
  /** What would happen, for what cannot be undone. */
  readonly effect: string;
  /** What the button that does it says. */
  readonly does: string;
  readonly onDo: () => void;
}

/** A button for what cannot be undone: it shows its effect first. */
export function AskFirst({ name, effect, does, onDo }: Props) {
  const [asked, setAsked] = useState(false);
  if (!asked)
    return (
      <Button look="quiet" onClick={() => setAsked(true)}>
        {name} …
      </Button>
    );
  return (
    <div className="max-w-xl">
      <Notice>
        <p>{effect}</p>
        <span className="mt-1.5 flex gap-2">
          <Button
            look="stop"
            onClick={() => {
              setAsked(false);
              onDo();
            }}
          >
            {does}
          </Button>
          <Button onClick={() => setAsked(false)}>Cancel</Button>
        </span>
      </Notice>
    </div>
  );
}
