import { deskPath } from '@lantern/core/incidents';
import type { AskReason, AskTerms, Rule, Told } from '@lantern/core/policy';
import { EVERYBODY } from '@lantern/core/directory';
import { CHANNELS } from '@lantern/core/movement';
import { CHANNEL_ABILITIES } from '@lantern/core/policy';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { useMay } from '../../../data/session';
import { Button } from '../../../ui/button';
import { SelectField, TextArea, TextField } from '../../../ui/field';
import { TimeZoneField } from '../../../ui/time-zone-field';
import { audienceWords } from '../../../wording/audience';
import { holdWords, overrideWords, replyWords } from '../../../wording/beside';
import { spanWords } from '../../../wording/times';
import { CHANNEL_WORDS } from '../../../wording/terms';
import { AudienceEditor } from '../../../shared/audience/audience-editor';
import { NumberField } from '../../../ui/number-field';
import { SentencePart } from '../sentence-part';
import { HoldEditor, LEADS, OverrideEditor } from './deciders';

interface Props {
  readonly rule: Rule;
  readonly readOnly: boolean;
  readonly onChange: (change: Partial<Rule>) => void;
}

/** Everything a rule says beside its condition and its answer, each a short line that opens its editor. */
export function Beside({ rule, readOnly, onChange }: Props) {
  const maySilence = useMay('policies.silent');
  const asks = rule.bands.some(({ answer }) => answer === 'ask');
  const holds = rule.bands.some(({ answer }) => answer === 'hold');
  const blocks = rule.bands.some(({ answer }) => answer === 'block');
  const part = (words: string, label: string, editor: ReactNode) => (
    <SentencePart key={label} look="quiet" words={words} label={label} readOnly={readOnly}>
      {editor}
    </SentencePart>
  );
  return (
    <p className="flex flex-wrap gap-x-4 text-[13px] leading-6 text-ink-2">
      {asks && part(askWords(rule.ask), 'Change the question', <AskEditor rule={rule} onChange={onChange} />)}
      {blocks &&
        part(
          rule.override ? overrideWords(rule.override) : 'no one may request an override',
          'Change who may request an override',
          <OverrideEditor rule={rule} onChange={onChange} />,
        )}
      {holds &&
        part(
          rule.hold ? holdWords(rule.hold) : 'held until someone decides',
          'Change by when a held item is decided',
          <HoldEditor rule={rule} onChange={onChange} />,
        )}
      {part(
        rule.people ? `for ${audienceWords(rule.people)} only` : 'for everyone the policy applies to',
        'Change whom the rule applies to',
        <PeopleEditor rule={rule} onChange={onChange} />,
      )}
      {part(
        rule.perRecipient ? 'judged for each recipient separately' : 'judged once for all recipients',
        'Change how recipients are judged',
        <SelectField
          label="When the rule matches"
          value={rule.perRecipient ? 'each' : 'all'}
          options={[
            { value: 'all', label: 'the answer applies to all recipients' },
            { value: 'each', label: 'the answer applies to matching recipients only; the others receive it' },
          ]}
          onChange={(which) => onChange({ perRecipient: which === 'each' })}
        />,
      )}
      {part(
        rule.tell.length === 0 ? 'no one else is told' : `${rule.tell.length} more told`,
        'Change who else is told',
        <TellEditor rule={rule} onChange={onChange} />,
      )}
      {part(
        rule.keep === 'counts' ? 'only counts are kept' : 'excerpts are kept',
        'Change what is kept as evidence',
        <SelectField
          label="Kept as evidence"
          value={rule.keep}
          options={[
            { value: 'excerpts', label: 'Excerpts around the findings, sealed' },
            { value: 'counts', label: 'Counts only: no one can review the content later' },
          ]}
          onChange={(keep) => onChange({ keep })}
        />,
      )}
      {part(
        [
          ...(rule.endsPolicy ? ['ends this policy'] : []),
          ...(rule.bindsFrom ? [`binds from ${rule.bindsFrom}`] : []),
          ...(rule.silence ? [`silent until ${rule.silence.until}`] : []),
        ].join(', ') || 'later rules also apply',
        'Change order and time',
        <TimeEditor rule={rule} onChange={onChange} maySilence={maySilence} />,
      )}
    </p>
  );
}

function askWords(ask: AskTerms | null): string {
  if (!ask) return 'no question yet';
  return `asks with ${ask.reasons.length} reasons, wants a reply ${replyWords(ask)}, then it ${ask.otherwise === 'stays' ? 'stays' : 'goes on'}`;
}

type EditorProps = Pick<Props, 'rule' | 'onChange'>;

const NO_QUESTION: AskTerms = {
  reasons: [{ words: 'Wrong file, cancel', leads: 'stays' }],
  minutes: 240,
  otherwise: 'stays',
};

const OWN_ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;
const ENDS_WITH_PAGE = `It happens sooner if the page is closed: ${CHANNELS.filter(
  (channel) => CHANNEL_ABILITIES[channel].question === 'while-open',
)
  .map((channel) => CHANNEL_WORDS[channel])
  .join(', ')}.`;

function AskEditor({ rule, onChange }: EditorProps) {
  const ask = rule.ask ?? NO_QUESTION;
  const { closes: _closes, ...withoutClosing } = ask;
  const change = (part: Partial<AskTerms>) => onChange({ ask: { ...ask, ...part } });
  const reason = (index: number, part: Partial<AskReason>) =>
    change({ reasons: ask.reasons.map((each, at) => (at === index ? { ...each, ...part } : each)) });
  return (
    <div className="flex flex-col gap-2.5">
      <p className="text-[12.5px] text-ink-2">
        Reasons the person can choose, and what each does. The person can always write their own reason.
      </p>
      {ask.reasons.map((each, index) => (
        <div key={index} className="flex items-end gap-1.5">
          <TextField
            className="flex-1"
            label={`Reason ${index + 1}`}
            maxLength={200}
            value={each.words}
            onChange={(event) => reason(index, { words: event.target.value })}
          />
          <SelectField
            label="Then"
            value={each.leads}
            options={LEADS}
            onChange={(leads) => reason(index, { leads })}
          />
          <Button
            look="quiet"
            aria-label={`Remove reason ${index + 1}`}
            onClick={() => change({ reasons: ask.reasons.filter((_each, at) => at !== index) })}
          >
            ×
          </Button>
        </div>
      ))}
      <Button
        look="quiet"
        className="self-start"
        onClick={() => change({ reasons: [...ask.reasons, { words: '', leads: 'goes-on' }] })}
      >
        Add a reason
      </Button>
      <div className="grid grid-cols-2 gap-2.5">
        <NumberField
          label="Minutes to reply"
          hint={spanWords(ask.minutes)}
          value={ask.minutes}
          onChange={(minutes) => change({ minutes })}
        />
        <SelectField
          label="If there is no reply"
          value={ask.otherwise}
          options={LEADS}
          onChange={(otherwise) => change({ otherwise })}
        />
      </div>
      <label className="flex min-h-6 items-center gap-2">
        <input
          type="checkbox"
          checked={ask.closes !== undefined}
          onChange={(event) =>
            onChange({
              ask: {
                ...withoutClosing,
                ...(event.target.checked ? { closes: { time: '17:00', zone: OWN_ZONE } } : {}),
              },
            })
          }
        />
        The question stays open until a time of day
      </label>
      {ask.closes && <Closing closes={ask.closes} onChange={(closes) => change({ closes })} />}
      <p className="text-[12.5px] text-ink-2">{ENDS_WITH_PAGE}</p>
    </div>
  );
}

interface ClosingProps {
  readonly closes: NonNullable<AskTerms['closes']>;
  readonly onChange: (closes: NonNullable<AskTerms['closes']>) => void;
}

function Closing({ closes, onChange }: ClosingProps) {
  return (
    <div className="grid grid-cols-2 gap-2.5">
      <TextField
        label="Time of day"
        type="time"
        value={closes.time}
        onChange={(event) => onChange({ ...closes, time: event.target.value })}
      />
      <TimeZoneField value={closes.zone} onChange={(zone) => onChange({ ...closes, zone })} />
    </div>
  );
}

function PeopleEditor({ rule, onChange }: EditorProps) {
  return (
    <div className="flex flex-col gap-2.5">
      <label className="flex min-h-6 items-center gap-2">
        <input
          type="checkbox"
          checked={rule.people !== null}
          onChange={(event) => onChange({ people: event.target.checked ? EVERYBODY : null })}
        />
        Only for some of the people the policy applies to
      </label>
      {rule.people && <AudienceEditor audience={rule.people} onChange={(people) => onChange({ people })} />}
    </div>
  );
}

function TellEditor({ rule, onChange }: EditorProps) {
  const change = (index: number, part: Partial<Told>) =>
    onChange({ tell: rule.tell.map((each, at) => (at === index ? { ...each, ...part } : each)) });
  return (
    <div className="flex flex-col gap-2.5">
      <p className="text-[12.5px] text-ink-2">
        They get a mail with the incident number, never the content. Choose addresses from the directory.
      </p>
      {rule.tell.map((told, index) => (
        <div key={index} className="flex items-end gap-1.5">
          <TextField
            className="flex-1"
            label="Address"
            value={told.address}
            onChange={(event) => change(index, { address: event.target.value.trim() })}
          />
          <SelectField
            label="When"
            value={told.when}
            options={[
              { value: 'at-once', label: 'at once' },
              { value: 'daily', label: 'once a day' },
            ]}
            onChange={(when) => change(index, { when })}
          />
          <Button
            look="quiet"
            aria-label={`Do not tell ${told.address}`}
            onClick={() => onChange({ tell: rule.tell.filter((_each, at) => at !== index) })}
          >
            ×
          </Button>
        </div>
      ))}
      <Button
        look="quiet"
        className="self-start"
        onClick={() => onChange({ tell: [...rule.tell, { address: '', when: 'at-once' }] })}
      >
        Add address
      </Button>
    </div>
  );
}

function TimeEditor({ rule, onChange, maySilence }: EditorProps & { readonly maySilence: boolean }) {
  const { silence } = rule;
  return (
    <div className="flex flex-col gap-3">
      <label className="flex items-start gap-2">
        <input
          type="checkbox"
          className="mt-1"
          checked={rule.endsPolicy}
          onChange={(event) => onChange({ endsPolicy: event.target.checked })}
        />
        When the rule matches, skip the later rules of this policy
      </label>
      <TextField
        label="Binds from"
        type="date"
        hint="Items created earlier are noted and allowed. Empty: applies to all items."
        value={rule.bindsFrom ?? ''}
        onChange={(event) => onChange({ bindsFrom: event.target.value || null })}
      />
      {rule.bindsFrom && (
        <Link className="text-press underline" to={deskPath('reducedBy eq "made-before"')}>
          Incidents from items created before this date
        </Link>
      )}
      {maySilence && (
        <label className="flex items-start gap-2">
          <input
            type="checkbox"
            className="mt-1"
            checked={silence !== null}
            onChange={(event) => onChange({ silence: event.target.checked ? { until: '', why: '' } : null })}
          />
          Silent: no one is told, and few accounts may see the rule and its incidents
        </label>
      )}
      {silence && (
        <>
          <TextField
            label="Silent until"
            type="date"
            value={silence.until}
            onChange={(event) => onChange({ silence: { ...silence, until: event.target.value } })}
          />
          <TextArea
            label="Reason for silence"
            rows={2}
            maxLength={4000}
            value={silence.why}
            onChange={(event) => onChange({ silence: { ...silence, why: event.target.value } })}
          />
        </>
      )}
    </div>
  );
}
