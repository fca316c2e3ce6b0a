import { useState } from 'react';
import { Button } from '../ui/button';
import { TextField } from '../ui/field';
import { Notice } from '../ui/notice';
import { EditorPopover } from '../ui/popover';
import { errorSentence } from '../wording/errors';

/** Shortest reason that says anything. The server asks for as much. */
const LEAST_REASON = 3;

interface Props {
  /** Text of the link that opens it. */
  readonly trigger: string;
  /** Name of what opens. */
  readonly name: string;
  readonly question: string;
  readonly hint: string;
  readonly button: string;
  /** `stop` for what takes something away. */
  readonly look?: 'main' | 'stop';
  readonly most?: number;
  /** Why the act failed; null where it did not. Left out where it is shown elsewhere. */
  readonly error?: unknown;
  readonly onGiven: (reason: string) => void;
}

/** A link that asks for a reason before something is done. */
export function ReasonPopover({
  trigger,
  name,
  question,
  hint,
  button,
  look = 'main',
  most = 500,
  error = null,
  onGiven,
}: Props) {
  const [reason, setReason] = useState('');
  const isGiven = reason.trim().length >= LEAST_REASON;
  return (
    <EditorPopover
      label={name}
      trigger={
        <button type="button" className="part text-[12.5px] whitespace-nowrap">
          {trigger}
        </button>
      }
    >
      <form
        className="flex flex-col gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (isGiven) onGiven(reason.trim());
        }}
      >
        <TextField
          label={question}
          hint={hint}
          value={reason}
          maxLength={most}
          onChange={(event) => setReason(event.target.value)}
        />
        {error !== null && error !== undefined && <Notice look="stop">{errorSentence(error)}</Notice>}
        <Button
          look={look}
          type="submit"
          className="self-start"
          refusal={isGiven ? undefined : 'Write a reason first'}
        >
          {button}
        </Button>
      </form>
    </EditorPopover>
  );
}
