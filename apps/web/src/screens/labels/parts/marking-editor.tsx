import {
  type LabelProblem,
  MARK_FIELDS,
  MARK_PLACES,
  MARK_POINTS,
  type Marking,
  MAX_MARK_LENGTH,
  MAX_SLANT,
} from '@lantern/core/labels';
import { Button } from '../../../ui/button';
import { SelectField, TextField } from '../../../ui/field';
import { PLACE_WORDS } from '../../../wording/labels';
import { replaced, without } from '../edit';
import { ProblemList, problemsAt } from './problem-list';

interface Props {
  readonly markings: readonly Marking[];
  readonly problems: readonly LabelProblem[];
  readonly readOnly: boolean;
  readonly onChange: (markings: readonly Marking[]) => void;
}

const NEW: Readonly<Record<Marking['place'], Marking>> = {
  top: { place: 'top', text: '{label}', points: 9, colour: '#444444', slant: 0 },
  foot: { place: 'foot', text: '{owner}, {date}', points: 8, colour: '#4a4a4a', slant: 0 },
  across: { place: 'across', text: '{label}', points: 56, colour: '#e2dccf', slant: 42 },
};

/** The lines a label prints, each at its place. */
export function MarkingEditor({ markings, problems, readOnly, onChange }: Props) {
  return (
    <div>
      {markings.length === 0 && <p className="text-ink-2">Nothing is printed.</p>}
      {markings.map((marking, index) => (
        <fieldset key={index} className="border-b border-dotted border-rule py-2">
          <legend className="sr-only">Line {index + 1}</legend>
          <div className="grid grid-cols-[130px_minmax(0,1fr)_74px_86px_74px_auto] items-end gap-2">
            <SelectField
              label="Where"
              value={marking.place}
              options={MARK_PLACES.map((place) => ({ value: place, label: PLACE_WORDS[place] }))}
              onChange={(place) =>
                onChange(
                  replaced(
                    markings,
                    index,
                    place === 'across' || marking.place === 'across'
                      ? { ...NEW[place], text: marking.text }
                      : { place },
                  ),
                )
              }
            />
            <TextField
              label="Line"
              readOnly={readOnly}
              maxLength={MAX_MARK_LENGTH}
              value={marking.text}
              onChange={(event) => onChange(replaced(markings, index, { text: event.target.value }))}
            />
            <TextField
              label="Points"
              type="number"
              readOnly={readOnly}
              min={MARK_POINTS.least}
              max={MARK_POINTS.most}
              value={marking.points}
              onChange={(event) =>
                onChange(replaced(markings, index, { points: Number(event.target.value) }))
              }
            />
            <TextField
              label="Colour"
              type="color"
              disabled={readOnly}
              value={marking.colour}
              onChange={(event) => onChange(replaced(markings, index, { colour: event.target.value }))}
            />
            {marking.place === 'across' ? (
              <TextField
                label="Slant °"
                type="number"
                readOnly={readOnly}
                min={-MAX_SLANT}
                max={MAX_SLANT}
                value={marking.slant}
                onChange={(event) =>
                  onChange(replaced(markings, index, { slant: Number(event.target.value) }))
                }
              />
            ) : (
              <span />
            )}
            {!readOnly && (
              <Button
                look="quiet"
                aria-label={`Remove line ${index + 1}`}
                onClick={() => onChange(without(markings, index))}
              >
                ×
              </Button>
            )}
          </div>
          <ProblemList problems={problemsAt(problems, 'markings', index)} />
        </fieldset>
      ))}
      {!readOnly && (
        <p className="mt-2 flex flex-wrap items-center gap-2">
          {MARK_PLACES.map((place) => (
            <Button key={place} onClick={() => onChange([...markings, NEW[place]])}>
              A line {PLACE_WORDS[place]}
            </Button>
          ))}
          <span className="text-[12.5px] text-ink-2">
            Filled in: {MARK_FIELDS.map((field) => `{${field}}`).join(' ')}
          </span>
        </p>
      )}
    </div>
  );
}
