import {
  type Band,
  type Policy,
  type Problem,
  type Rule,
  SEVERITIES,
  type Severity,
  tellsPerson,
  type TextId,
} from '@lantern/core/policy';
import { Link } from 'react-router';
import { useNames, useTexts } from '../../../data/policies';
import { Button } from '../../../ui/button';
import { SelectField, TextField } from '../../../ui/field';
import { InlinePress } from '../../../ui/inline-press';
import { EditorPopover } from '../../../ui/popover';
import { measureWords, rangeWords, treatmentWords } from '../../../wording/sentence';
import { ANSWER_WORDS, SEVERITY_WORDS } from '../../../wording/terms';
import { NumberField } from '../../../ui/number-field';
import { MeasureEditor } from '../clauses/content-editors';
import { AnswerEditor } from './answer-editor';
import { addBand, changeBand, changeFrom, flatten, graduate, removeBand } from '../edit';

interface Props {
  readonly rule: Rule;
  readonly policy: Policy;
  readonly problems: readonly Problem[];
  readonly readOnly: boolean;
  readonly firstPattern: string;
  readonly onChange: (change: Partial<Rule>) => void;
}

/** What follows: one outcome, or bands by how much was found. */
export function RuleOutcome(props: Props) {
  const { rule, readOnly, firstPattern, onChange } = props;
  const names = useNames();
  const [only] = rule.bands;
  if (!rule.measure)
    return (
      <p>
        then {only && <Outcome {...props} band={only} index={0} />}.{' '}
        {!readOnly && (
          <button
            type="button"
            className="text-[12.5px] text-press"
            onClick={() => onChange(graduate(rule, firstPattern))}
          >
            + answer by amount
          </button>
        )}
      </p>
    );
  const measure = rule.measure;
  return (
    <div>
      then by the number of{' '}
      {readOnly ? (
        <b>{measureWords(measure, names)}</b>
      ) : (
        <EditorPopover
          wide
          label="Change what is counted"
          trigger={<InlinePress className="part">{measureWords(measure, names)}</InlinePress>}
        >
          <MeasureEditor clause={measure} onChange={(changed) => onChange({ measure: changed })} />
          <Button look="quiet" className="mt-2" onClick={() => onChange(flatten(rule))}>
            One answer for any amount
          </Button>
        </EditorPopover>
      )}
      :
      <table className="my-1 w-full">
        <caption className="sr-only">Bands of this rule</caption>
        <tbody>
          {rule.bands.map((band, index) => (
            <BandRow key={index} {...props} band={band} index={index} />
          ))}
        </tbody>
      </table>
      {!readOnly && (
        <button type="button" className="text-[12.5px] text-press" onClick={() => onChange(addBand(rule))}>
          + band
        </button>
      )}
    </div>
  );
}

interface BandProps extends Props {
  readonly band: Band;
  readonly index: number;
}

function BandRow(props: BandProps) {
  const { rule, band, index, problems, readOnly, onChange } = props;
  const wrong = problems.some(
    ({ path }) =>
      path[2] === 'bands' &&
      path[3] === index &&
      (path[4] === 'from' || path[4] === 'to' || path.length === 4),
  );
  return (
    <tr className="border-t border-dotted border-rule align-baseline">
      <th scope="row" className="w-28 py-0.5 pr-3 text-left font-normal whitespace-nowrap">
        {readOnly ? (
          <b>{rangeWords(band)}</b>
        ) : (
          <EditorPopover
            label={`Change the band ${rangeWords(band)}`}
            trigger={
              <button type="button" className={`part ${wrong ? '!border-stop !text-stop' : ''}`}>
                {rangeWords(band)}
              </button>
            }
          >
            <div className="grid grid-cols-2 gap-2.5">
              <NumberField
                label="From"
                value={band.from}
                onChange={(from) => onChange(changeFrom(rule, index, from))}
              />
              <TextField
                label="To"
                type="number"
                min={1}
                hint="Empty: no end."
                value={band.to ?? ''}
                onChange={(event) =>
                  onChange(
                    changeBand(rule, index, {
                      to: event.target.value === '' ? null : event.target.valueAsNumber || 0,
                    }),
                  )
                }
              />
            </div>
            {rule.bands.length > 1 && (
              <Button look="quiet" className="mt-2" onClick={() => onChange(removeBand(rule, index))}>
                Remove band
              </Button>
            )}
          </EditorPopover>
        )}
      </th>
      <td className="py-0.5">
        <Outcome {...props} />
      </td>
    </tr>
  );
}

/** "block, tell the sender X, severity high": each part opens its editor. */
function Outcome({ rule, policy, band, index, readOnly, onChange }: BandProps) {
  const names = useNames();
  const change = (part: Partial<Band>) => onChange(changeBand(rule, index, part));
  const told = tellsPerson(band);
  const text =
    band.text === null ? 'nothing yet' : `"${names.get(band.text) ?? 'a message that was removed'}"`;
  if (readOnly)
    return (
      <>
        <b>{ANSWER_WORDS[band.answer]}</b>
        {told && <>, tell the sender {text}</>}
        {band.treatments.map((treatment) => (
          <span key={treatment.kind}>, {treatmentWords(treatment, names)}</span>
        ))}
        , severity <b>{band.severity}</b>
      </>
    );
  return (
    <>
      <EditorPopover
        wide
        label="Change the answer"
        trigger={
          <button type="button" className="part">
            {ANSWER_WORDS[band.answer]}
          </button>
        }
      >
        <AnswerEditor policy={policy} band={band} onChange={change} />
      </EditorPopover>
      {told && (
        <>
          , tell the sender{' '}
          <EditorPopover
            wide
            label="Change the message to the sender"
            trigger={<InlinePress className="part">{text}</InlinePress>}
          >
            <TextChoice band={band} onChange={change} />
          </EditorPopover>
        </>
      )}
      {band.treatments.map((treatment) => (
        <span key={treatment.kind}>, {treatmentWords(treatment, names)}</span>
      ))}
      , severity{' '}
      <EditorPopover
        label="Change the severity"
        trigger={
          <button type="button" className="part">
            {band.severity}
          </button>
        }
      >
        <SelectField<Severity>
          label="Severity"
          value={band.severity}
          options={SEVERITIES.map((severity) => ({ value: severity, label: SEVERITY_WORDS[severity] }))}
          onChange={(severity) => change({ severity })}
        />
      </EditorPopover>
    </>
  );
}

interface EditorProps {
  readonly band: Band;
  readonly onChange: (change: Partial<Band>) => void;
}

function TextChoice({ band, onChange }: EditorProps) {
  const texts = useTexts();
  const options = (texts.data ?? []).map(({ text }) => ({ value: String(text.id), label: text.name }));
  const chosen = texts.data?.find(({ text }) => text.id === band.text)?.text;
  return (
    <div className="flex flex-col gap-2">
      <SelectField
        label="Message to the sender"
        value={band.text ?? ''}
        hint="A message can be used by any rule. The findings and the name of the rule are added automatically."
        options={[{ value: '', label: 'nothing yet' }, ...options]}
        onChange={(id) => onChange({ text: id === '' ? null : (id as TextId) })}
      />
      {chosen?.words[0] && (
        <p className="border-l-4 border-rule-strong bg-sunk px-3 py-2 text-[13px]">{chosen.words[0].text}</p>
      )}
      <Link className="part self-start" to="/policies/texts">
        Edit messages
      </Link>
    </div>
  );
}
