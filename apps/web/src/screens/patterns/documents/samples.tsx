import type { DocumentsDetail } from '@lantern/contracts';
import { useState } from 'react';

interface TableProps {
  readonly samples: DocumentsDetail['samples'];
  readonly learns: DocumentsDetail['learns'];
  readonly dropped: ReadonlySet<string>;
  readonly put: (dropped: ReadonlySet<string>) => void;
}

/** The samples, and which of them the next learning leaves out. */
export function SampleTable({ samples, learns, dropped, put }: TableProps) {
  if (samples.length === 0) return null;
  const toggle = (id: string) => {
    const next = new Set(dropped);
    if (!next.delete(id)) next.add(id);
    put(next);
  };
  const headings = [
    'Sample',
    'Side',
    'Characters',
    learns === 'likeness' ? 'Recognised by' : 'Certainty in the test',
    'Remove',
  ];
  return (
    <div className="max-h-72 overflow-auto">
      <table className="w-full text-[13px]" aria-label="Samples">
        <thead className="sticky top-0 bg-sheet">
          <tr className="border-b border-rule-strong text-left text-[12.5px] text-ink-2">
            {headings.map((heading) => (
              <th key={heading} className="py-1 pr-3 font-semibold whitespace-nowrap">
                {heading}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {samples.map(({ id, name, side, characters, fingerprints, certainty }) => (
            <tr
              key={id}
              className={`border-b border-dotted border-rule ${dropped.has(id) ? 'text-ink-2 line-through' : ''}`}
            >
              <td className="w-full max-w-0 truncate py-1 pr-3" title={name}>
                {name}
              </td>
              <td className="pr-3 whitespace-nowrap">{side === 'like' ? 'meant' : 'counter-example'}</td>
              <td className="pr-3 text-right whitespace-nowrap">{characters.toLocaleString('en')}</td>
              <td className="pr-3 text-right whitespace-nowrap">
                {learns === 'category'
                  ? (certainty ?? '')
                  : fingerprints === null
                    ? ''
                    : fingerprints === 0
                      ? 'too little text'
                      : `${fingerprints.toLocaleString('en')} pieces`}
              </td>
              <td className="text-center">
                <input
                  type="checkbox"
                  className="m-1 size-4"
                  aria-label={`Remove ${name}`}
                  checked={dropped.has(id)}
                  onChange={() => toggle(id)}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface FilesProps {
  readonly words: string;
  readonly files: readonly File[];
  readonly take: (files: readonly File[]) => void;
  readonly leave: (file: File) => void;
}

/** Files that are to become samples of one side: chosen or dropped. */
export function SampleFiles({ words, files, take, leave }: FilesProps) {
  const [over, setOver] = useState(false);
  return (
    <div
      className={`flex min-h-28 flex-col gap-1 border border-dashed p-3 ${over ? 'border-ink bg-page' : 'border-rule-strong'}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        take([...event.dataTransfer.files]);
      }}
    >
      <span className="text-[12.5px] font-semibold text-ink-2">{words}</span>
      <label className="part w-fit cursor-pointer">
        Choose files
        <input
          type="file"
          multiple
          className="sr-only"
          aria-label={words}
          onChange={(event) => {
            take([...(event.target.files ?? [])]);
            event.target.value = '';
          }}
        />
      </label>
      <ul className="max-h-40 overflow-auto text-[13px]">
        {files.map((file) => (
          <li key={`${file.size} ${file.name}`} className="flex gap-2">
            <span className="flex-1 truncate">{file.name}</span>
            <button
              type="button"
              className="part min-h-6 min-w-8"
              aria-label={`Remove ${file.name}`}
              onClick={() => leave(file)}
            >
              out
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
