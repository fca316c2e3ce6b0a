import { useState } from 'react';
import { useAddresses } from '../../data/mail';
import { splitAddresses } from '../sizes';

interface Props {
  readonly to: readonly string[];
  readonly ownDomain: string;
  readonly onChange: (to: readonly string[]) => void;
}

/** Recipients shown one by one; a distribution of thousands shows its number. */
const SHOWN = 30;

/** Addresses with completion from the directory; outside ones are marked before anything is sent. */
export function Recipients({ to, ownDomain, onChange }: Props) {
  const [typed, setTyped] = useState('');
  const suggestions = useAddresses(typed);
  const add = (addresses: readonly string[]) => {
    onChange([...to, ...addresses.filter((address) => !to.includes(address))]);
    setTyped('');
  };
  const isOutside = (address: string) => !address.toLowerCase().endsWith(`@${ownDomain}`);
  return (
    <div className="relative flex min-h-9 flex-wrap items-center gap-1.5 border-b border-rule py-1">
      <label htmlFor="to" className="w-16 text-ink-2">
        To
      </label>
      {to.slice(0, SHOWN).map((address) => (
        <span
          key={address}
          className={`inline-flex items-center gap-1 rounded-full border px-2.5 ${isOutside(address) ? 'border-stop' : 'border-rule-strong'}`}
        >
          {address}
          {isOutside(address) && <span className="text-ink-2">, outside</span>}
          <button
            type="button"
            aria-label={`Remove ${address}`}
            onClick={() => onChange(to.filter((other) => other !== address))}
          >
            ×
          </button>
        </span>
      ))}
      {to.length > SHOWN && <span>and {to.length - SHOWN} more</span>}
      <input
        id="to"
        autoComplete="off"
        role="combobox"
        aria-expanded={typed !== '' && (suggestions.data?.length ?? 0) > 0}
        aria-controls="suggestions"
        aria-autocomplete="list"
        className="min-w-48 flex-1 px-1 py-1 outline-offset-0"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onPaste={(event) => {
          const pasted = splitAddresses(event.clipboardData.getData('text'));
          if (pasted.length < 2) return;
          event.preventDefault();
          add(pasted);
        }}
        onKeyDown={(event) => {
          if (event.key === 'Backspace' && typed === '' && to.length > 0) onChange(to.slice(0, -1));
          if (event.key !== 'Enter' && event.key !== ',' && event.key !== ';') return;
          event.preventDefault();
          const exact = typed.includes('@');
          const first = suggestions.data?.[0]?.address;
          if (exact || first) add(exact ? splitAddresses(typed) : first ? [first] : []);
        }}
        onBlur={() => typed.includes('@') && add(splitAddresses(typed))}
      />
      {typed !== '' && (suggestions.data?.length ?? 0) > 0 && (
        <ul
          id="suggestions"
          role="listbox"
          aria-label="Addresses"
          className="absolute top-full left-16 z-10 max-h-64 w-96 overflow-auto border border-rule-strong bg-white shadow-md"
        >
          {suggestions.data?.map((known) => (
            <li
              key={known.address}
              role="option"
              aria-selected="false"
              onMouseDown={(event) => {
                event.preventDefault();
                add([known.address]);
              }}
              className="px-3 py-1.5 hover:bg-[#eef5f2]"
            >
              <b>{known.name}</b>, {known.from}
              {known.outside && ', outside'}
              <br />
              <span className="text-ink-2">{known.address}</span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
