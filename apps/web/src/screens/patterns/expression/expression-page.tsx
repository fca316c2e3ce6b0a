import type { PatternDetail } from '@lantern/contracts';
import { faultOf, OWN_CHECKS } from '@lantern/core/detection';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { useSaveExpression } from '../../../data/patterns';
import { useMay } from '../../../data/session';
import { Button } from '../../../ui/button';
import { SelectField, TextArea, TextField } from '../../../ui/field';
import { Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { CHECK_WORDS, FAULT_WORDS } from '../../../wording/expressions';
import { PatternHead } from '../pattern-head';
import { Specimens } from '../specimens/specimens';
import { ExpressionField } from './expression-field';
import { EMPTY_FORM, type ExpressionForm, formOf, patternOf, readForm } from './form';

/** Stands for a pattern that has no number yet, while its specimens in the Lantern are looked at. */
const UNSAVED = 'new-expression';

export function NewExpressionPage() {
  return <ExpressionEditor pattern={null} />;
}

/** Writing or changing an own expression: what it looks for on the left, what it finds on the right. */
export function ExpressionEditor({ pattern }: { readonly pattern: PatternDetail | null }) {
  const navigate = useNavigate();
  const mayWrite = useMay('patterns.write');
  const saved = pattern?.own?.expression ?? null;
  const [form, setForm] = useState<ExpressionForm>(() => (saved ? formOf(saved) : EMPTY_FORM));
  const put = (changes: Partial<ExpressionForm>) => setForm((before) => ({ ...before, ...changes }));
  const save = useSaveExpression(pattern?.own ? { id: pattern.id, version: pattern.own.version } : undefined);
  const read = useMemo(() => readForm(form), [form]);
  const fault = useMemo(
    () => (form.expression === '' ? null : faultOf(form.expression, form.caseMatters)),
    [form.expression, form.caseMatters],
  );
  const id = pattern?.id ?? UNSAVED;
  const written = read.status === 'read' && !fault && form.expression !== '' ? patternOf(id, read) : null;
  const changed = JSON.stringify(form) !== JSON.stringify(saved ? formOf(saved) : EMPTY_FORM);
  const submit = () => {
    if (read.status !== 'read') return;
    save.mutate(read.fields, {
      onSuccess: (kept) => {
        if (kept.own?.expression) setForm(formOf(kept.own.expression));
        toast.success('Saved as a draft. It takes effect when it is published.');
        if (!pattern) void navigate(`/patterns/${kept.id}`, { replace: true });
      },
    });
  };
  const refusal = !mayWrite
    ? 'This account reads patterns and does not write them'
    : form.name.trim() === ''
      ? 'Give the pattern a name first'
      : form.expression === ''
        ? 'Write an expression first'
        : fault
          ? FAULT_WORDS[fault.problem]
          : read.status === 'wrong'
            ? read.sentence
            : changed
              ? undefined
              : 'No changes';
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <div className="max-w-6xl">
        <PatternHead pattern={pattern} untitled="A new expression" what="pattern">
          <Button look="main" onClick={submit} refusal={refusal}>
            {save.isPending ? 'Saving …' : 'Save draft'}
          </Button>
        </PatternHead>
      </div>
      {save.isError && <Notice look="stop">{errorSentence(save.error)}</Notice>}
      <div className="grid max-w-6xl grid-cols-[3fr_2fr] gap-8">
        <div className="flex flex-col gap-3">
          <TextField
            label="Name"
            value={form.name}
            maxLength={120}
            onChange={(event) => put({ name: event.target.value })}
          />
          <TextField
            label="What it is for"
            value={form.about}
            maxLength={4000}
            onChange={(event) => put({ about: event.target.value })}
          />
          <div>
            <p className="mb-1 text-[12.5px] font-semibold text-ink-2">Expression</p>
            <ExpressionField
              value={form.expression}
              onChange={(expression) => put({ expression })}
              readOnly={!mayWrite}
              faultAt={fault ? fault.at : null}
            />
            <p className={`mt-1 text-[12.5px] ${fault ? 'text-stop' : 'text-ink-2'}`} role="status">
              {fault
                ? `${FAULT_WORDS[fault.problem]}${fault.problem === 'not-readable' && fault.about ? `: ${fault.about}` : ''}.`
                : 'ECMAScript syntax: \\d is a digit, \\b a word boundary, {6} six times. The match that starts first wins, then the longest.'}
            </p>
          </div>
          <label className="flex items-center gap-2 text-[13px]">
            <input
              type="checkbox"
              checked={form.caseMatters}
              disabled={!mayWrite}
              onChange={(event) => put({ caseMatters: event.target.checked })}
            />
            Match case
          </label>
          <SelectField
            label="Check"
            value={form.check}
            options={OWN_CHECKS.map((check) => ({ value: check, label: CHECK_WORDS[check] }))}
            onChange={(check) => put({ check })}
          />
          <Surroundings form={form} put={put} />
        </div>
        <div>
          <Specimens pattern={id} saved={saved} written={written} />
          {pattern && (
            <p className="mt-4 text-[12.5px] text-ink-2">
              Last saved by {pattern.own?.updatedBy}, version {pattern.own?.version}. Used by{' '}
              {pattern.usedBy.join(', ') || 'no rule yet'}.
            </p>
          )}
        </div>
      </div>
    </div>
  );
}

interface FieldsProps {
  readonly form: ExpressionForm;
  readonly put: (changes: Partial<ExpressionForm>) => void;
}

const WEIGHTS = [
  ['shape', 'On its own'],
  ['namingWord', 'Its name beside it'],
  ['supportingWord', 'Its subject near it'],
  ['counterWord', 'A counter word nearby'],
] as const;

function Surroundings({ form, put }: FieldsProps) {
  const area = (field: keyof ExpressionForm & string, label: string, hint?: string) => (
    <TextArea
      label={label}
      hint={hint}
      rows={3}
      value={String(form[field])}
      onChange={(event) => put({ [field]: event.target.value })}
    />
  );
  return (
    <>
      <div className="grid grid-cols-3 items-end gap-3">
        {area('namingWords', 'Names of the value, one per line')}
        {area('supportingWords', 'Words from its subject')}
        {area('counterWords', 'Counter words')}
      </div>
      <div className="grid grid-cols-5 items-end gap-3">
        <TextField
          label="Maximum distance in characters"
          inputMode="numeric"
          value={form.wordDistance}
          onChange={(event) => put({ wordDistance: event.target.value })}
        />
        {WEIGHTS.map(([field, label]) => (
          <TextField
            key={field}
            label={label}
            inputMode="decimal"
            value={form[field]}
            onChange={(event) => put({ [field]: event.target.value })}
          />
        ))}
      </div>
      <p className="-mt-2 text-[12.5px] text-ink-2">
        Weights are log-odds. Their sum gives the certainty: 0 is 50 %, +1.5 is 82 %, +3 is 95 %.
      </p>
      <div className="grid grid-cols-3 gap-3">
        {area('excludedValues', 'Exclude these values', 'In any format')}
        {area('excludedWords', 'Exclude values that contain')}
        {area('excludedRanges', 'Exclude these numbers', '900000 to 999999')}
      </div>
    </>
  );
}
