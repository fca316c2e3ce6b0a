import { type JobRequest, MAX_PROTECTED, type ProtectRequest, type Step } from '@lantern/contracts/discovery';
import { EXPOSURE_PARTS } from '@lantern/core/discovery';
import { useDiscoveryPlaces } from '../../../data/discovery';
import { TextField } from '../../../ui/field';
import { number, PART_WORDS } from '../../../wording/discovery';

const NEW: ProtectRequest = { parts: ['above-place'], most: 100 };

/** A job that goes as far as a step. */
export const withStep = ({ protect }: JobRequest, step: Step): Pick<JobRequest, 'step' | 'protect'> => ({
  step,
  protect: step === 'protect' ? (protect ?? NEW) : null,
});

interface Props {
  readonly draft: JobRequest;
  readonly onChange: (protect: ProtectRequest) => void;
}

/** What goes into quarantine, with how much that would be by what is known now. */
export function ProtectionFields({ draft, onChange }: Props) {
  const known = useDiscoveryPlaces();
  const { protect, places, step } = draft;
  if (step !== 'protect' || !protect) return null;
  const count = (code: (typeof EXPOSURE_PARTS)[number]): number =>
    (known.data ?? [])
      .filter(({ id }) => places.includes(id))
      .reduce(
        (sum, { exposure }) => sum + (exposure.parts.find((part) => part.code === code)?.items ?? 0),
        0,
      );
  return (
    <fieldset className="border-l-2 border-rule-strong pl-3">
      <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">
        Sensitive items go into quarantine, with a note in their place, where
      </legend>
      {EXPOSURE_PARTS.map((code) => (
        <label key={code} className="flex min-h-[26px] items-center gap-2">
          <input
            type="checkbox"
            checked={protect.parts.includes(code)}
            onChange={({ target }) =>
              onChange({
                ...protect,
                parts: target.checked
                  ? [...protect.parts, code]
                  : protect.parts.filter((each) => each !== code),
              })
            }
          />
          {PART_WORDS[code]}
          <span className="text-[12.5px] text-ink-2">{number(count(code))} by now</span>
        </label>
      ))}
      <TextField
        label="At most (with more, nothing is done)"
        type="number"
        min={1}
        max={MAX_PROTECTED}
        className="w-56"
        value={protect.most}
        onChange={({ target }) => onChange({ ...protect, most: Number(target.value) })}
      />
    </fieldset>
  );
}
