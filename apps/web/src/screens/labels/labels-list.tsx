import type { LabelView } from '@lantern/contracts';
import { labelGravity, newLabel } from '@lantern/core/labels';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { useLabels, useSaveLabel } from '../../data/labels';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { Empty, Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { termsWords } from '../../wording/labels';
import { EFFECT_WORDS } from '../../wording/effects';
import { STATE_WORDS } from '../../wording/terms';
import { LabelPlaces } from './label-places';
import { Flag } from './parts/flag';

/** All labels on one scale, the most sensitive on top. */
export function LabelsList() {
  const labels = useLabels();
  const save = useSaveLabel('labels');
  const navigate = useNavigate();
  const [search, setSearch] = useSearchParams();
  const mayWrite = useMay('labels.write');
  const typed = (search.get('find') ?? '').toLowerCase();
  const all = labels.data?.labels ?? [];
  const scale = [...all]
    .sort((left, right) => right.label.rank - left.label.rank)
    .filter(({ label }) =>
      `${label.name} ${label.family} ${label.choosing.map(({ when }) => when).join(' ')}`
        .toLowerCase()
        .includes(typed),
    );
  const start = () =>
    save.mutate(
      { id: null, value: newLabel(all.map(({ label }) => label)), version: 1, note: '' },
      { onSuccess: (made) => made && void navigate(`/labels/${made.id}`) },
    );
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <LabelPlaces />
      <div className="mb-3 flex max-w-5xl items-center gap-3">
        <h1 className="flex-1">Labels</h1>
        <input
          aria-label="Find in labels"
          placeholder="Find in labels"
          className="field !w-56"
          value={search.get('find') ?? ''}
          onChange={(event) =>
            setSearch(event.target.value ? { find: event.target.value } : {}, { replace: true })
          }
        />
        <Button
          look="main"
          onClick={start}
          refusal={mayWrite ? undefined : 'Your account may read labels but not edit them'}
        >
          Create label
        </Button>
      </div>
      {save.isError && <Notice look="stop">{errorSentence(save.error)}</Notice>}
      {labels.isPending && <Loading what="the labels" />}
      {labels.isError && <Notice look="stop">{errorSentence(labels.error)}</Notice>}
      {labels.data?.labels.length === 0 && (
        <Empty title="There is no label yet">
          A label tells people how to handle an item. Create the first label, or import a set of labels under{' '}
          <Link className="part" to="/labels/review">
            Who is affected
          </Link>
          .
        </Empty>
      )}
      <ol className="max-w-5xl" aria-label="Labels, most sensitive first">
        {scale.map((view) => (
          <LabelRow key={view.label.id} view={view} />
        ))}
      </ol>
    </div>
  );
}

function LabelRow({ view }: { readonly view: LabelView }) {
  const { label, state, problems, offers, automatic } = view;
  const must = problems.filter(({ code }) => labelGravity(code) === 'must').length;
  const look = problems.length - must;
  const limited = (['read', 'pass-on'] as const).map(
    (effect) => `${EFFECT_WORDS[effect]}: ${termsWords(label.handling[effect])}`,
  );
  return (
    <li
      className={`grid grid-cols-[58px_minmax(0,1fr)_minmax(0,300px)] gap-4 border-b border-rule py-2.5 ${label.retired ? 'opacity-70' : ''}`}
    >
      <span
        className="text-right font-head text-[17px] text-ink-2"
        title="Rank: a higher number is more sensitive"
      >
        {label.rank}
      </span>
      <div>
        <p>
          <Link className="part text-[15px]" to={`/labels/${label.id}`}>
            <Flag colour={label.colour} name={label.name || 'Unnamed label'} />
          </Link>{' '}
          <span className="text-[12.5px] text-ink-2">
            {label.family && `${label.family}, `}
            {label.retired ? 'retired' : STATE_WORDS[state]}
          </span>{' '}
          {must > 0 && (
            <span className="bg-stop-soft px-1.5 text-[12.5px] text-stop">
              {must} {must === 1 ? 'problem' : 'problems'}
            </span>
          )}{' '}
          {look > 0 && <span className="bg-sunk px-1.5 text-[12.5px] text-ink-2">{look} to check</span>}
        </p>
        <p className="line-clamp-2 text-[13px] text-ink-2">
          {label.choosing[0]?.when || 'No guidance on when to choose it.'}
        </p>
      </div>
      <div className="text-[12.5px]">
        <p>{limited.join('; ')}</p>
        <p className="text-ink-2">
          {offers.length === 0
            ? 'not offered to anyone'
            : `offered by ${offers.map(({ name }) => name).join(', ')}`}
          {automatic.length > 0 && `; set by ${automatic.map(({ name }) => name).join(', ')}`}
          {view.items > 0 && `; on ${view.items} ${view.items === 1 ? 'document' : 'documents'}`}
        </p>
      </div>
    </li>
  );
}
