import { type Automatic, isPersonsStore } from '@lantern/core/labels';
import { type PatternId } from '@lantern/core/shared';
import { useState } from 'react';
import { usePlaces } from '../../../data/labels';
import { usePeople } from '../../../data/mail';
import { Button } from '../../../ui/button';
import { replaced, without } from '../edit';

interface PartProps {
  readonly draft: Omit<Automatic, 'id'>;
  readonly names: ReadonlyMap<string, string>;
  readonly onChange: (part: Partial<Automatic>) => void;
}

/** What an item must hold, term by term. */
export function ContentTerms({ draft, names, onChange }: PartProps) {
  const [typed, setTyped] = useState('');
  const found =
    typed.trim() === ''
      ? []
      : [...names]
          .filter(
            ([id, name]) =>
              !draft.content.some(({ pattern }) => pattern === id) &&
              `${name} ${id}`.toLowerCase().includes(typed.trim().toLowerCase()),
          )
          .slice(0, 6);
  return (
    <div>
      <p className="mb-1 text-[12.5px] font-semibold text-ink-2">What an item contains</p>
      {draft.content.length > 1 && (
        <label className="mb-1 flex items-center gap-2">
          <select
            className="field !w-40"
            value={draft.quantity}
            onChange={(event) => onChange({ quantity: event.target.value as Automatic['quantity'] })}
          >
            <option value="any">any of these</option>
            <option value="every">all of these</option>
          </select>
        </label>
      )}
      {draft.content.map((term, index) => (
        <div key={term.pattern} className="mb-1 flex flex-wrap items-center gap-2">
          <span>at least</span>
          <input
            aria-label={`How many of ${names.get(term.pattern) ?? term.pattern}`}
            className="field !w-20"
            type="number"
            min={1}
            value={term.atLeast}
            onChange={(event) =>
              onChange({ content: replaced(draft.content, index, { atLeast: Number(event.target.value) }) })
            }
          />
          <label className="flex items-center gap-1">
            <input
              type="checkbox"
              checked={term.distinct}
              onChange={(event) =>
                onChange({ content: replaced(draft.content, index, { distinct: event.target.checked }) })
              }
            />
            different
          </label>
          <b>{names.get(term.pattern) ?? term.pattern}</b>
          <span>certain to</span>
          <input
            aria-label={`Certainty of ${names.get(term.pattern) ?? term.pattern}`}
            className="field !w-16"
            type="number"
            min={0}
            max={100}
            value={term.certainty}
            onChange={(event) =>
              onChange({ content: replaced(draft.content, index, { certainty: Number(event.target.value) }) })
            }
          />
          <Button
            look="quiet"
            aria-label={`Remove ${names.get(term.pattern) ?? term.pattern}`}
            onClick={() => onChange({ content: without(draft.content, index) })}
          >
            ×
          </Button>
        </div>
      ))}
      <input
        aria-label="Add a pattern"
        placeholder="Add a pattern: type part of its name"
        className="field"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      {found.map(([id, name]) => (
        <Button
          key={id}
          look="quiet"
          onClick={() => {
            setTyped('');
            onChange({
              content: [
                ...draft.content,
                { pattern: id as PatternId, distinct: true, certainty: 80, atLeast: 1 },
              ],
            });
          }}
        >
          {name}
        </Button>
      ))}
      {typed.trim() !== '' && found.length === 0 && (
        <p className="text-[12.5px] text-stop">No pattern matches this search.</p>
      )}
    </div>
  );
}

/** Places are chosen from those there are; a folder in one may be added behind it, and a person means all of theirs. */
export function PlaceTerms({
  places,
  onChange,
}: {
  readonly places: readonly string[];
  readonly onChange: (places: string[]) => void;
}) {
  const known = usePlaces();
  const people = usePeople();
  const [typed, setTyped] = useState('');
  const all = known.data ?? [];
  const like = typed.trim().toLowerCase();
  const fits = all.some(({ name }) => name === (typed.split('/')[0]?.trim() ?? ''));
  const found =
    like === ''
      ? []
      : [
          ...(fits ? [{ value: typed.trim(), words: typed.trim() }] : []),
          ...all
            .filter(({ name }) => !fits && name.toLowerCase().includes(like))
            .map(({ name }) => ({ value: name, words: name })),
          ...(people.data ?? [])
            .filter(({ name, address }) => name.toLowerCase().includes(like) || address.includes(like))
            .map(({ name, address }) => ({ value: address, words: `all places of ${name}` })),
        ].slice(0, 8);
  const take = (place: string) => {
    setTyped('');
    onChange([...new Set([...places, place])]);
  };
  const withoutPlace = places.filter(
    (place) => isPersonsStore(place) && !all.some(({ owner }) => owner.toLowerCase() === place.toLowerCase()),
  );
  return (
    <div>
      <p className="mb-1 text-[12.5px] font-semibold text-ink-2">
        Only in these places and below (none: everywhere)
      </p>
      <p className="flex flex-wrap gap-1.5">
        {places.map((place) => (
          <span key={place} className="border border-rule-strong px-1.5">
            {place}{' '}
            <button
              type="button"
              className="min-h-6 min-w-6 text-press"
              aria-label={`Remove ${place}`}
              onClick={() => onChange(places.filter((each) => each !== place))}
            >
              ×
            </button>
          </span>
        ))}
      </p>
      <input
        aria-label="Add a place"
        placeholder="A place, a folder (Claims/2026) or a person"
        className="field"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== 'Enter') return;
          event.preventDefault();
          if (found[0]) take(found[0].value);
        }}
      />
      {found.map(({ value, words }) => (
        <Button key={value} look="quiet" onClick={() => take(value)}>
          {words}
        </Button>
      ))}
      {like !== '' && found.length === 0 && (
        <p className="text-[12.5px] text-stop">No place or person matches this search.</p>
      )}
      {withoutPlace.length > 0 && (
        <p className="text-[12.5px] text-ink-2">
          {withoutPlace.join(', ')} {withoutPlace.length === 1 ? 'does' : 'do'} not exist yet. The rule
          applies there from the day they appear.
        </p>
      )}
    </div>
  );
}
