import type { ChooserView } from '@lantern/contracts';
import { useId } from 'react';
import { lowers } from './label-choices';

interface Props {
  readonly chooser: ChooserView;
  readonly before: string | null;
  readonly after: string | null;
  readonly reason: string;
  readonly onChange: (reason: string) => void;
}

/** Asks why a label goes down, where that costs a reason. */
export function LoweringReason({ chooser, before, after, reason, onChange }: Props) {
  const id = useId();
  if (chooser.lowering === 'nothing' || !lowers(before, after, chooser)) return null;
  return (
    <div>
      <label className="mb-1 block text-[12.5px] font-semibold text-ink-2" htmlFor={id}>
        Why do you choose a lower label? {chooser.lowering === 'second-person' && 'A colleague must agree.'}
      </label>
      <textarea
        id={id}
        className="field w-full"
        rows={2}
        maxLength={2000}
        value={reason}
        onChange={(event) => onChange(event.target.value)}
      />
      <p className="text-[12px] text-ink-2">The label history keeps your reason.</p>
    </div>
  );
}
