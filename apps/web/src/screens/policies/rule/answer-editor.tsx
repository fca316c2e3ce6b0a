import { EVERYBODY } from '@lantern/core/directory';
import { type Channel } from '@lantern/core/movement';
import {
  type Answer,
  ANSWERS,
  type Band,
  CHANNEL_ABILITIES,
  LOWERABLE_EFFECTS,
  MAX_TRUST_MINUTES,
  type Policy,
  tellsPerson,
  type Treatment,
  TREATMENT_KINDS,
  type TreatmentKind,
  TRUST_SCOPES,
} from '@lantern/core/policy';
import { useLabels } from '../../../data/labels';
import { AudienceEditor } from '../../../shared/audience/audience-editor';
import { SelectField, TextField } from '../../../ui/field';
import { TRUST_WORDS } from '../../../wording/applications';
import { EFFECT_WORDS } from '../../../wording/effects';
import {
  ANSWER_MEANING,
  ANSWER_WORDS,
  CANNOT_WORDS,
  CHANNEL_WORDS,
  TREATMENT_WORDS,
} from '../../../wording/terms';
import { ChooseSeveral } from '../clauses/choose-several';

interface Props {
  readonly policy: Policy;
  readonly band: Band;
  readonly onChange: (change: Partial<Band>) => void;
}

type Able = Readonly<Record<string, true | keyof typeof CANNOT_WORDS>>;

/** Why one of the channels cannot do something, in a sentence; null where they all can. */
function reasonAgainst(
  channels: readonly Channel[],
  what: 'answers' | 'treatments',
  key: string,
): string | null {
  for (const channel of channels) {
    const able = (CHANNEL_ABILITIES[channel][what] as Able)[key];
    if (able !== undefined && able !== true) return `On ${CHANNEL_WORDS[channel]}: ${CANNOT_WORDS[able]}.`;
  }
  return null;
}

/** Answers and treatments that the policy's channels can give; for the others, why not. */
export function AnswerEditor({ policy, band, onChange }: Props) {
  return (
    <div className="flex flex-col gap-3">
      <fieldset>
        <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">Answer</legend>
        {ANSWERS.map((answer: Answer) => {
          const reason = reasonAgainst(policy.channels, 'answers', answer);
          return (
            <label key={answer} className="flex min-h-6 items-baseline gap-2">
              <input
                type="radio"
                name="answer"
                checked={band.answer === answer}
                disabled={reason !== null && band.answer !== answer}
                onChange={() =>
                  onChange({ answer, ...(tellsPerson({ ...band, answer }) ? {} : { text: null }) })
                }
              />
              <span>
                <b>{ANSWER_WORDS[answer]}</b>: {ANSWER_MEANING[answer]}
                {reason && <span className="block text-[12.5px] text-ink-2">{reason}</span>}
              </span>
            </label>
          );
        })}
      </fieldset>
      <Treatments policy={policy} band={band} onChange={onChange} />
    </div>
  );
}

/** A treatment as it begins, to be changed in place. */
function newTreatment(kind: TreatmentKind, label: string): Treatment {
  switch (kind) {
    case 'mark':
      return { kind, words: '[confidential]' };
    case 'set-label':
      return { kind, label };
    case 'end-access':
      return { kind, days: 30 };
    case 'lower-handling':
      return { kind, effects: ['make-another'], people: EVERYBODY };
    case 'ask-who':
      return { kind, minutes: 15, trusts: 'same-application' };
    default:
      return { kind };
  }
}

function Treatments({ policy, band, onChange }: Props) {
  const labels = useLabels();
  const [firstLabel] = labels.data?.labels ?? [];
  const chosen = (kind: TreatmentKind) => band.treatments.find((treatment) => treatment.kind === kind);
  const toggle = (kind: TreatmentKind, on: boolean) => {
    const others = band.treatments.filter((treatment) => treatment.kind !== kind);
    onChange({ treatments: on ? [...others, newTreatment(kind, firstLabel?.label.id ?? '')] : others });
  };
  const change = (changed: Treatment) =>
    onChange({
      treatments: band.treatments.map((treatment) => (treatment.kind === changed.kind ? changed : treatment)),
    });
  const reasons = new Map(
    TREATMENT_KINDS.map((kind) => [kind, reasonAgainst(policy.channels, 'treatments', kind)]),
  );
  // One that was chosen before a channel was added stays in sight, so that it can be taken out.
  const [offered, closed] = [true, false].map((isOffered) =>
    TREATMENT_KINDS.filter(
      (kind) => (reasons.get(kind) === null || chosen(kind) !== undefined) === isOffered,
    ),
  ) as [TreatmentKind[], TreatmentKind[]];
  return (
    <fieldset>
      <legend className="mb-1 text-[12.5px] font-semibold text-ink-2">Treatments if it is allowed</legend>
      {offered.map((kind) => {
        const treatment = chosen(kind);
        return (
          <div key={kind}>
            <label className="flex min-h-6 items-baseline gap-2">
              <input
                type="checkbox"
                checked={treatment !== undefined}
                onChange={(event) => toggle(kind, event.target.checked)}
              />
              <span>
                {TREATMENT_WORDS[kind]}
                {reasons.get(kind) && (
                  <span className="block text-[12.5px] text-ink-2">{reasons.get(kind)}</span>
                )}
              </span>
            </label>
            {treatment && (
              <div className="mb-2 pl-6">
                <TreatmentTerms treatment={treatment} onChange={change} />
              </div>
            )}
          </div>
        );
      })}
      {closed.length > 0 && (
        <details className="mt-1 text-[12.5px] text-ink-2">
          <summary className="min-h-6 cursor-pointer text-press">
            {offered.length === 0
              ? 'No treatment is possible there: reasons'
              : `${closed.length} more are not possible there: reasons`}
          </summary>
          <dl>
            {closed.map((kind) => (
              <div key={kind} className="py-0.5">
                <dt className="inline font-semibold">{TREATMENT_WORDS[kind]}.</dt>{' '}
                <dd className="inline">{reasons.get(kind)}</dd>
              </div>
            ))}
          </dl>
        </details>
      )}
    </fieldset>
  );
}

interface TermsProps {
  readonly treatment: Treatment;
  readonly onChange: (treatment: Treatment) => void;
}

/** What a treatment needs to be told, beneath it. */
function TreatmentTerms({ treatment, onChange }: TermsProps) {
  const labels = useLabels();
  switch (treatment.kind) {
    case 'set-label':
      return (
        <SelectField
          label="Which label"
          value={treatment.label}
          options={(labels.data?.labels ?? []).map(({ label }) => ({
            value: String(label.id),
            label: label.name,
          }))}
          onChange={(label) => onChange({ kind: 'set-label', label })}
        />
      );
    case 'lower-handling':
      return (
        <div className="flex flex-col gap-2">
          <ChooseSeveral
            label="They can no longer"
            options={LOWERABLE_EFFECTS.map((value) => ({ value, label: EFFECT_WORDS[value] }))}
            chosen={treatment.effects}
            onChange={(effects) => onChange({ ...treatment, effects })}
          />
          <AudienceEditor
            audience={treatment.people}
            onChange={(people) => onChange({ ...treatment, people })}
          />
        </div>
      );
    case 'ask-who':
      return (
        <div className="grid grid-cols-2 gap-2.5">
          <TextField
            label="Minutes until the next request"
            type="number"
            min={0}
            max={MAX_TRUST_MINUTES}
            hint="0: every time."
            value={treatment.minutes}
            onChange={(event) => onChange({ ...treatment, minutes: event.target.valueAsNumber || 0 })}
          />
          <SelectField
            label="No new request during that time"
            value={treatment.trusts}
            options={TRUST_SCOPES.map((value) => ({ value, label: TRUST_WORDS[value] }))}
            onChange={(trusts) => onChange({ ...treatment, trusts })}
          />
        </div>
      );
    case 'end-access':
      return (
        <TextField
          label="Days until access ends"
          type="number"
          min={1}
          max={3650}
          value={treatment.days}
          onChange={(event) => onChange({ kind: 'end-access', days: event.target.valueAsNumber || 0 })}
        />
      );
    case 'mark':
      return (
        <TextField
          label="Text before the subject"
          maxLength={60}
          value={treatment.words}
          onChange={(event) => onChange({ kind: 'mark', words: event.target.value })}
        />
      );
    default:
      return null;
  }
}
