import type { IncidentDetail } from '@lantern/contracts';
import { useState } from 'react';
import { toast } from 'sonner';
import { useUnmask } from '../../../data/incidents';
import { usePatternNames } from '../../../data/patterns';
import { useMay } from '../../../data/session';
import { useSaveSpecimen } from '../../../data/specimens';
import { Button } from '../../../ui/button';
import { Notice } from '../../../ui/notice';
import { EditorPopover } from '../../../ui/popover';
import { errorSentence } from '../../../wording/errors';
import { asSpecimen, patternsShown } from './as-specimen';

/** Keeps the evidence of an incident as a specimen. Its values are shown to authors by that, so the history says so. */
export function KeepEvidence({ incident }: { readonly incident: IncidentDetail }) {
  const mayWrite = useMay('patterns.write');
  const mayShow = useMay('incidents.unmask');
  const names = usePatternNames();
  const unmask = useUnmask(incident.number);
  const save = useSaveSpecimen();
  const patterns = patternsShown(incident);
  const [chosen, setChosen] = useState('');
  if (!mayWrite || !mayShow || patterns.length === 0) return null;
  const pattern = patterns.includes(chosen) ? chosen : (patterns[0] ?? '');
  const nameOf = (id: string) => names.get(id) ?? id;
  const keep = async (meant: boolean) => {
    const whole = await unmask.mutateAsync(`kept as a specimen of ${nameOf(pattern)}`);
    await save.mutateAsync(asSpecimen(whole, pattern, meant));
    toast.success(
      `Kept as a specimen of ${nameOf(pattern)}, ${meant ? 'must be found' : 'must not be found'}.`,
    );
  };
  const failure = unmask.error ?? save.error;
  const running = unmask.isPending || save.isPending;
  return (
    <EditorPopover
      label="Keep as a specimen"
      trigger={
        <button type="button" className="part text-[12.5px] whitespace-nowrap">
          Keep as a specimen
        </button>
      }
    >
      <label className="mb-1 block text-[12.5px] font-semibold text-ink-2" htmlFor="specimen-pattern">
        For the pattern
      </label>
      <select
        id="specimen-pattern"
        className="field mb-2"
        value={pattern}
        onChange={(event) => setChosen(event.target.value)}
      >
        {patterns.map((id) => (
          <option key={id} value={id}>
            {nameOf(id)}
          </option>
        ))}
      </select>
      <p className="mb-2 text-[12.5px] text-ink-2">
        The text shown here is kept with its values. Everyone who works on patterns can read it. The
        incident’s history records this.
      </p>
      <div className="flex gap-2">
        {([true, false] as const).map((meant) => (
          <Button
            key={String(meant)}
            onClick={() => void keep(meant).catch(() => undefined)}
            refusal={running ? 'It is being kept' : undefined}
          >
            {meant ? 'Must be found' : 'Must not be found'}
          </Button>
        ))}
      </div>
      {failure && <Notice look="stop">{errorSentence(failure)}</Notice>}
    </EditorPopover>
  );
}
