import type { LabelView } from '@lantern/contracts';
import { CARRIERS, type Label, type LabelProblem } from '@lantern/core/labels';
import { Button } from '../../../ui/button';
import { TextArea, TextField } from '../../../ui/field';
import { CARRIER_WORDS } from '../../../wording/labels';
import { STATE_WORDS } from '../../../wording/terms';
import { replaced, toggled, without } from '../edit';
import { Flag } from './flag';
import { ProblemList, problemsAt } from './problem-list';

interface Props {
  readonly draft: Label;
  readonly problems: readonly LabelProblem[];
  readonly mayWrite: boolean;
  readonly change: (part: Partial<Label>) => void;
}

/** Name, rank, family and flag, with what stands above and below. */
export function Head({
  draft,
  problems,
  mayWrite,
  change,
  all,
  state,
}: Props & { readonly all: readonly LabelView[]; readonly state: LabelView['state'] }) {
  return (
    <div>
      <div className="flex items-baseline gap-3">
        <h1 className="flex-1">
          <Flag colour={draft.colour} name={draft.name || 'Unnamed label'} />
        </h1>
        <span className="text-[12.5px] text-ink-2">
          {draft.retired ? 'retired, ' : ''}
          {STATE_WORDS[state]}
        </span>
      </div>
      <ProblemList
        problems={problems.filter(({ path }) =>
          ['name', 'rank', 'colour', 'foreign'].includes(String(path[0])),
        )}
      />
      <div className="mt-2 grid grid-cols-[minmax(0,1.4fr)_90px_minmax(0,1fr)_86px] gap-3">
        <TextField
          label="Name"
          required
          maxLength={120}
          readOnly={!mayWrite}
          value={draft.name}
          onChange={(event) => change({ name: event.target.value })}
        />
        <TextField
          label="Rank"
          type="number"
          min={1}
          max={1000}
          readOnly={!mayWrite}
          value={draft.rank}
          onChange={(event) => change({ rank: Number(event.target.value) })}
        />
        <TextField
          label="Group (display only)"
          maxLength={120}
          readOnly={!mayWrite}
          value={draft.family}
          onChange={(event) => change({ family: event.target.value })}
        />
        <TextField
          label="Flag"
          type="color"
          disabled={!mayWrite}
          value={draft.colour}
          onChange={(event) => change({ colour: event.target.value })}
        />
      </div>
      <Neighbours draft={draft} all={all} />
    </div>
  );
}

/** Words for the people who must choose. */
export function Choosing({ draft, problems, mayWrite, change }: Props) {
  return (
    <Question title="When should people choose it?">
      <ProblemList problems={problemsAt(problems, 'choosing')} />
      {draft.choosing.map((words, index) => (
        <div
          key={index}
          className="mb-2 grid grid-cols-[64px_minmax(0,1fr)_minmax(0,1fr)_auto] items-start gap-2"
        >
          <TextField
            label="Language"
            maxLength={10}
            readOnly={!mayWrite}
            value={words.language}
            onChange={(event) =>
              change({ choosing: replaced(draft.choosing, index, { language: event.target.value }) })
            }
          />
          <TextArea
            label="Choose it when"
            rows={3}
            readOnly={!mayWrite}
            value={words.when}
            onChange={(event) =>
              change({ choosing: replaced(draft.choosing, index, { when: event.target.value }) })
            }
          />
          <TextArea
            label="When not, and what to choose instead"
            rows={3}
            readOnly={!mayWrite}
            value={words.not}
            onChange={(event) =>
              change({ choosing: replaced(draft.choosing, index, { not: event.target.value }) })
            }
          />
          {mayWrite && (
            <Button
              look="quiet"
              className="mt-5"
              aria-label={`Remove language ${words.language}`}
              onClick={() => change({ choosing: without(draft.choosing, index) })}
            >
              ×
            </Button>
          )}
        </div>
      ))}
      {mayWrite && (
        <Button
          onClick={() => change({ choosing: [...draft.choosing, { language: '', when: '', not: '' }] })}
        >
          Add a language
        </Button>
      )}
    </Question>
  );
}

/** What a label can stand on. */
export function Carriers({ draft, problems, mayWrite, change }: Props) {
  return (
    <Question title="What can carry it?">
      <ProblemList problems={problemsAt(problems, 'carriers')} />
      <div className="flex flex-wrap gap-4">
        {CARRIERS.map((carrier) => (
          <label key={carrier} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              disabled={!mayWrite}
              checked={draft.carriers.includes(carrier)}
              onChange={() => change({ carriers: toggled(draft.carriers, carrier) })}
            />
            {CARRIER_WORDS[carrier]}
          </label>
        ))}
      </div>
    </Question>
  );
}

/** Names of other makers that mean this label. */
export function ForeignNames({ draft, mayWrite, change }: Props) {
  return (
    <Question
      title="What is it called in files from elsewhere?"
      about="A property or header from another product that means this label."
    >
      {draft.foreign.map((name, index) => (
        <div key={index} className="mb-1 grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)_auto] items-end gap-2">
          <TextField
            label="Field"
            readOnly={!mayWrite}
            value={name.field}
            onChange={(event) =>
              change({ foreign: replaced(draft.foreign, index, { field: event.target.value }) })
            }
          />
          <TextField
            label="Value"
            readOnly={!mayWrite}
            value={name.value}
            onChange={(event) =>
              change({ foreign: replaced(draft.foreign, index, { value: event.target.value }) })
            }
          />
          {mayWrite && (
            <Button
              look="quiet"
              aria-label={`Remove ${name.value}`}
              onClick={() => change({ foreign: without(draft.foreign, index) })}
            >
              ×
            </Button>
          )}
        </div>
      ))}
      {mayWrite && (
        <Button onClick={() => change({ foreign: [...draft.foreign, { field: '', value: '' }] })}>
          Add a name
        </Button>
      )}
    </Question>
  );
}

/** A part of the page under the question it answers. */
export function Question({
  title,
  about,
  children,
}: {
  readonly title: string;
  readonly about?: string | undefined;
  readonly children: React.ReactNode;
}) {
  return (
    <section aria-label={title}>
      <h2 className="mb-1.5 !text-[15px] !text-ink">{title}</h2>
      {about && <p className="mb-1 text-[12.5px] text-ink-2">{about}</p>}
      {children}
    </section>
  );
}

/** Which labels stand above and below: rank is a place on one scale, not an order of a list. */
function Neighbours({ draft, all }: { readonly draft: Label; readonly all: readonly LabelView[] }) {
  const others = all.map(({ label }) => label).filter(({ id }) => id !== draft.id);
  const above = others
    .filter(({ rank }) => rank > draft.rank)
    .sort((left, right) => left.rank - right.rank)[0];
  const below = others
    .filter(({ rank }) => rank < draft.rank)
    .sort((left, right) => right.rank - left.rank)[0];
  return (
    <p className="mt-1 text-[12.5px] text-ink-2">
      {below ? `More sensitive than ${below.name} (${below.rank})` : 'The least sensitive of all'}
      {above ? `, less than ${above.name} (${above.rank}).` : ', and the most sensitive of all.'}
    </p>
  );
}
