import { Button } from '../../../ui/button';
import { Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { LabelHistory } from './label-history';

interface Props {
  /** The kept draft; null while it is new. */
  readonly id: string | null;
  readonly error: Error | null;
  readonly readOnly: boolean;
  readonly onRemove: (id: string) => void;
  readonly onLeave: () => void;
}

/** The end of a form that keeps a draft: what went wrong, what can be done, and its history. */
export function DraftFoot({ id, error, readOnly, onRemove, onLeave }: Props) {
  return (
    <>
      {error && <Notice look="stop">{errorSentence(error)}</Notice>}
      {!readOnly && (
        <div className="flex gap-2">
          <Button look="main" type="submit">
            Save draft
          </Button>
          {id !== null && (
            <Button look="stop" onClick={() => onRemove(id)}>
              Remove
            </Button>
          )}
          <Button onClick={onLeave}>Discard</Button>
        </div>
      )}
      {id !== null && <LabelHistory id={id} />}
    </>
  );
}
