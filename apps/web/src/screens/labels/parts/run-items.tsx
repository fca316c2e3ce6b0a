import type { LabelRunItem, LabelRunView } from '@lantern/contracts';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { useRunItems } from '../../../data/labels';
import { usePatternNames } from '../../../data/patterns';
import { Button } from '../../../ui/button';
import { Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { HOW_WORDS, LEFT_WORDS, OUTCOME_DONE, OUTCOME_TITLES } from '../../../wording/labels';

/** Files of a run that a rule claimed or that could not be read, each with its reason. */
export function RunItems({ run }: { readonly run: LabelRunView }) {
  const [search, setSearch] = useSearchParams();
  const [after, setAfter] = useState<readonly number[]>([]);
  const outcome = search.get('outcome') ?? '';
  const typed = search.get('find') ?? '';
  const start = after.at(-1);
  const query = new URLSearchParams({
    ...(outcome ? { outcome } : {}),
    ...(typed ? { search: typed } : {}),
    ...(start === undefined ? {} : { after: String(start) }),
  });
  const items = useRunItems(run.id, query.toString());
  const patterns = usePatternNames();
  const change = (next: Record<string, string>) => {
    setAfter([]);
    setSearch(
      { of: run.id, ...(outcome ? { outcome } : {}), ...(typed ? { find: typed } : {}), ...next },
      { replace: true },
    );
  };
  const listed = items.data?.items ?? [];
  return (
    <section aria-label="Files">
      <div className="mb-2 flex items-center gap-2">
        <h2>{items.data?.total ?? 0} files with a result</h2>
        {outcome && (
          <Button look="quiet" onClick={() => change({ outcome: '' })}>
            {OUTCOME_TITLES[outcome as keyof typeof OUTCOME_TITLES] ?? outcome} ×
          </Button>
        )}
        <span className="flex-1" />
        <input
          aria-label="Find a file"
          placeholder="Find a file"
          className="field !w-48"
          value={typed}
          onChange={(event) => change({ find: event.target.value })}
        />
      </div>
      {items.isError && <Notice look="stop">{errorSentence(items.error)}</Notice>}
      <ul>
        {listed.map((item) => (
          <ItemRow key={item.id} item={item} does={run.does} names={patterns} />
        ))}
      </ul>
      <p className="my-2 flex gap-2">
        {after.length > 0 && <Button onClick={() => setAfter(after.slice(0, -1))}>Previous 1000</Button>}
        {listed.length >= 1_000 && (
          <Button onClick={() => setAfter([...after, listed.at(-1)?.id ?? 0])}>Next 1000</Button>
        )}
      </p>
    </section>
  );
}

function ItemRow({
  item,
  does,
  names,
}: {
  readonly item: LabelRunItem;
  readonly does: 'look' | 'label';
  readonly names: ReadonlyMap<string, string>;
}) {
  const [open, setOpen] = useState(false);
  const done = does === 'label' && item.applied ? OUTCOME_DONE[item.outcome] : undefined;
  return (
    <li className="border-b border-dotted border-rule py-1 text-[13px]">
      <button
        type="button"
        aria-expanded={open}
        className="grid w-full grid-cols-[minmax(0,1fr)_170px_210px] gap-3 text-left hover:bg-press-soft"
        onClick={() => setOpen(!open)}
      >
        <span className="truncate">
          <span className="text-ink-2">{item.place} / </span>
          {item.path}
        </span>
        <span>
          {item.before ?? 'no label'}
          {item.label && item.label !== item.before && <b> → {item.label}</b>}
        </span>
        <span className="text-ink-2">
          {item.reason === 'undone' ? 'restored' : (done ?? OUTCOME_TITLES[item.outcome])}
        </span>
      </button>
      {open && (
        <div className="my-1 ml-4 border-l-2 border-rule-strong pl-3">
          {item.rule && (
            <p>
              Rule <b>{item.rule}</b>
              {item.held.length > 0 &&
                `: ${item.held.map(({ pattern, count }) => `${count} × ${names.get(pattern) ?? pattern}`).join(', ')}`}
            </p>
          )}
          {item.outranked.length > 0 && (
            <p>Also matched by {item.outranked.join(', ')}, for a label of lower rank.</p>
          )}
          {item.before && item.beforeHow && (
            <p>
              Previous label: {item.before}, set {HOW_WORDS[item.beforeHow]}.
            </p>
          )}
          {item.reason && <p className="text-stop">Not changed: {LEFT_WORDS[item.reason] ?? item.reason}.</p>}
        </div>
      )}
    </li>
  );
}
