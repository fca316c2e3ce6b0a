import type { EvidencePart } from '@lantern/contracts';
import { useState } from 'react';
import { toast } from 'sonner';
import { usePatternNames } from '../../data/patterns';
import { useMay } from '../../data/session';
import { useSaveSpecimen } from '../../data/specimens';
import { Button } from '../../ui/button';
import { Notice } from '../../ui/notice';
import { EditorPopover } from '../../ui/popover';
import { errorSentence } from '../../wording/errors';
import { asSpecimen, patternsShown } from './as-specimen';

interface Props {
  /** Name of the specimen. */
  readonly name: string;
  readonly parts: readonly EvidencePart[];
  /** What records it. */
  readonly note: string;
  /** Gives the same evidence with its values. */
  readonly whole: (pattern: string) => Promise<readonly EvidencePart[]>;
}

/** Keeps evidence with its values as a specimen of one pattern. */
export function KeepAsSpecimen({ name, parts, note, whole }: Props) {
  const mayWrite = useMay('patterns.write');
  const names = usePatternNames();
  const save = useSaveSpecimen();
  const patterns = patternsShown(parts);
  const [chosen, setChosen] = useState('');
  const [isKeeping, setKeeping] = useState(false);
  const [failure, setFailure] = useState<unknown>(null);
  if (!mayWrite || patterns.length === 0) return null;
  const pattern = patterns.includes(chosen) ? chosen : (patterns[0] ?? '');
  const nameOf = (id: string) => names.get(id) ?? id;
  const keep = async (meant: boolean) => {
    setKeeping(true);
    setFailure(null);
    try {
      const shown = await whole(nameOf(pattern));
      await save.mutateAsync(asSpecimen({ name, parts: shown }, pattern, meant));
      toast.success(
        `Kept as a specimen of ${nameOf(pattern)}, ${meant ? 'must be found' : 'must not be found'}.`,
      );
    } catch (error) {
      setFailure(error);
    } finally {
      setKeeping(false);
    }
  };
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
        The text shown here is kept with its values. Everyone who works on patterns can read it. {note}
      </p>
      <div className="flex gap-2">
        {([true, false] as const).map((meant) => (
          <Button
            key={String(meant)}
            onClick={() => void keep(meant)}
            refusal={isKeeping ? 'It is being kept' : undefined}
          >
            {meant ? 'Must be found' : 'Must not be found'}
          </Button>
        ))}
      </div>
      {failure !== null && <Notice look="stop">{errorSentence(failure)}</Notice>}
    </EditorPopover>
  );
}
