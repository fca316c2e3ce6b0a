import {
  type AssistantAudience,
  type AssistantRule,
  AUDIENCE_NAMES,
  AUDIENCES,
  OUTLET_NAMES,
  OUTLETS,
} from '@lantern/core/automations';
import { useLabels } from '../../data/labels';
import { Button } from '../../ui/button';
import type { PartProps } from './sets-page';

/** What assistants may not be, given the labels of what they read. */
export function AssistantRules({ draft, mayWrite, onChange }: PartProps) {
  const labels = useLabels();
  const { assistants } = draft;
  const setAt = (at: number, change: Partial<AssistantRule>) =>
    onChange({ assistants: assistants.map((each, index) => (index === at ? { ...each, ...change } : each)) });
  return (
    <section aria-label="Who may use assistants, and where?">
      <h2 className="mb-1 !text-[15px] !text-ink">Who may use assistants, and where?</h2>
      <p className="mb-1 text-[12.5px] text-ink-2">
        An assistant carries the highest label of what it reads. All lines that hold for it count.
      </p>
      <ul>
        {assistants.map((rule, at) => (
          <li key={at} className="flex flex-wrap items-center gap-2 py-0.5">
            <select
              aria-label={`From which label line ${at + 1} holds`}
              className="field !w-56 !py-0.5"
              disabled={!mayWrite}
              value={rule.fromLabel ?? ''}
              onChange={({ target }) => setAt(at, { fromLabel: target.value === '' ? null : target.value })}
            >
              <option value="">Every assistant</option>
              {(labels.data?.labels ?? []).map(({ label }) => (
                <option key={label.id} value={label.id}>
                  What reads {label.name} and above
                </option>
              ))}
            </select>
            may be used by
            <select
              aria-label={`Who may use it, line ${at + 1}`}
              className="field !w-44 !py-0.5"
              disabled={!mayWrite}
              value={rule.audience}
              onChange={({ target }) => setAt(at, { audience: target.value as AssistantAudience })}
            >
              {AUDIENCES.map((each) => (
                <option key={each} value={each}>
                  {AUDIENCE_NAMES[each]}
                </option>
              ))}
            </select>
            and published on
            {OUTLETS.map((outlet) => (
              <label key={outlet} className="flex items-center gap-1">
                <input
                  type="checkbox"
                  disabled={!mayWrite}
                  checked={rule.outlets.includes(outlet)}
                  onChange={({ target }) =>
                    setAt(at, {
                      outlets: target.checked
                        ? [...rule.outlets, outlet]
                        : rule.outlets.filter((each) => each !== outlet),
                    })
                  }
                />
                {OUTLET_NAMES[outlet]}
              </label>
            ))}
            {mayWrite && (
              <Button
                look="quiet"
                aria-label={`Remove line ${at + 1} about assistants`}
                onClick={() => onChange({ assistants: assistants.filter((_each, index) => index !== at) })}
              >
                ×
              </Button>
            )}
          </li>
        ))}
      </ul>
      {mayWrite && (
        <Button
          className="mt-1"
          onClick={() =>
            onChange({
              assistants: [...assistants, { fromLabel: null, audience: 'signed-in', outlets: ['chat'] }],
            })
          }
        >
          Add a line
        </Button>
      )}
    </section>
  );
}
