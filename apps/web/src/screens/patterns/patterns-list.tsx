import type { PatternSummary } from '@lantern/contracts';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { usePatterns } from '../../data/patterns';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { Empty, Loading, Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { KIND_WORDS, STATE_WORDS } from '../../wording/terms';
import { narrowPatterns } from './narrow';

/** Own and ready patterns in one list. */
export function PatternsList() {
  const patterns = usePatterns();
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const mayWrite = useMay('patterns.write');
  const kind = search.get('kind') ?? '';
  const words = search.get('words') ?? '';
  const put = (key: string, value: string) => {
    const next = new URLSearchParams(search);
    if (value) next.set(key, value);
    else next.delete(key);
    setSearch(next, { replace: true });
  };
  const shown = narrowPatterns(patterns.data ?? [], { kind, words });
  const kinds = [...new Set((patterns.data ?? []).map((pattern) => pattern.kind))];
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <div className="mb-3 flex items-center gap-4">
        <h1 className="flex-1">Patterns: what is sensitive</h1>
        <Button
          look="main"
          onClick={() => void navigate('/patterns/new')}
          refusal={mayWrite ? undefined : 'This account reads patterns and does not write them'}
        >
          Write a word list
        </Button>
      </div>
      <div className="mb-3 flex items-center gap-2">
        <input
          aria-label="Search patterns"
          placeholder="Search by name or purpose"
          className="field max-w-72"
          value={words}
          onChange={(event) => put('words', event.target.value)}
        />
        {kinds.map((each) => (
          <button
            key={each}
            type="button"
            aria-pressed={kind === each}
            onClick={() => put('kind', kind === each ? '' : each)}
            className={`rounded-[3px] border px-2 py-0.5 text-[12.5px] ${kind === each ? 'border-press bg-press-soft font-semibold' : 'border-rule-strong bg-sheet'}`}
          >
            {KIND_WORDS[each]}
            {kind === each && ' ×'}
          </button>
        ))}
      </div>
      {patterns.isPending && <Loading what="the patterns" />}
      {patterns.isError && <Notice look="stop">{errorSentence(patterns.error)}</Notice>}
      {patterns.data && shown.length === 0 && (
        <Empty title="No pattern fits these filters">Take a filter off, or search for another word.</Empty>
      )}
      {shown.length > 0 && <PatternTable patterns={shown} />}
    </div>
  );
}

function PatternTable({ patterns }: { readonly patterns: readonly PatternSummary[] }) {
  return (
    <table className="w-full bg-sheet">
      <thead>
        <tr className="border-b border-rule-strong text-left text-[12.5px] text-ink-2">
          <th className="px-3 py-1.5 font-semibold">Pattern</th>
          <th className="px-3 font-semibold">Kind</th>
          <th className="px-3 font-semibold">Recognised by</th>
          <th className="px-3 font-semibold">Looked for by</th>
          <th className="px-3 font-semibold">State</th>
        </tr>
      </thead>
      <tbody>
        {patterns.map((pattern) => (
          <tr key={pattern.id} className="border-b border-rule align-baseline hover:bg-press-soft">
            <td className="px-3 py-2">
              <Link className="part" to={`/patterns/${pattern.id}`}>
                {pattern.name}
              </Link>
              <p className="max-w-xl text-[12.5px] text-ink-2">{pattern.about}</p>
            </td>
            <td className="px-3 whitespace-nowrap">{KIND_WORDS[pattern.kind]}</td>
            <td className="px-3 text-[12.5px]">{pattern.source}</td>
            <td className="px-3 text-[12.5px]">{pattern.usedBy.join(', ') || 'no rule'}</td>
            <td className="px-3 whitespace-nowrap">
              {pattern.origin === 'ready' ? 'ready' : STATE_WORDS[pattern.state]}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
