import { Button } from '../../ui/button';
import { Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';

interface Props {
  readonly readOnly: boolean;
  /** What went wrong last; nothing for nothing. */
  readonly error: unknown;
  /** Takes it out of the drafts; null for what is not drafted yet. */
  readonly onRemove: (() => void) | null;
  readonly inUse: boolean;
  readonly onDone: () => void;
}

/** The end of the form of a text, an exchange or a group: save, remove where no rule uses it, close. */
export function PartButtons({ readOnly, error, onRemove, inUse, onDone }: Props) {
  return (
    <div className="col-span-2 flex gap-2">
      {error !== null && error !== undefined && <Notice look="stop">{errorSentence(error)}</Notice>}
      {!readOnly && (
        <>
          <Button look="main" type="submit">
            Save draft
          </Button>
          {onRemove && (
            <Button look="stop" refusal={inUse ? 'Rules still use it' : undefined} onClick={onRemove}>
              Remove
            </Button>
          )}
        </>
      )}
      <Button onClick={onDone}>Close</Button>
    </div>
  );
}
