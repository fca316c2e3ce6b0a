import { Button } from '../../ui/button';
import { Notice } from '../../ui/notice';

/** Said while somebody writes on something that another person saved in the meantime. */
export function Overtaken({ by, onTake }: { readonly by: string; readonly onTake: () => void }) {
  return (
    <Notice look="stop">
      <p>{by} saved this in the meantime. Your changes are still here, but cannot be saved over theirs.</p>
      <span className="mt-1.5 flex gap-2">
        <Button onClick={onTake}>Discard my changes</Button>
      </span>
    </Notice>
  );
}
