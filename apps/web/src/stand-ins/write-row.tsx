import type { Carrier } from '@lantern/core/labels';
import { type DragEvent, type ReactNode, useRef, useState } from 'react';
import { useChooser } from '../data/labels-at-work';
import { errorSentence } from '../wording/errors';
import { sizeWords } from '../wording/sizes';
import { startingLabel } from './label-choices';
import { WriteLabel } from './write-label';

interface Props {
  readonly label: string;
  readonly button: string;
  readonly sending: boolean;
  readonly error: unknown;
  readonly start?: string;
  /** Where what is written here carries a label: who writes, on what, and whether somebody outside reads it. */
  readonly labelled?: Labelled;
  /** Gives whether it was taken, so that what was typed can go. */
  readonly onSend: (given: Given) => Promise<boolean>;
}

interface Labelled {
  readonly player: string;
  readonly carrier: Carrier;
  readonly sharedOutside: boolean;
}

export interface Given {
  readonly text: string;
  readonly files: readonly File[];
  readonly pasted: boolean;
  /** Null for none, left out where nothing was offered. */
  readonly label?: string | null;
}

/** A few lines to write, with files. What was typed stays until it has been taken. */
export function WriteRow(props: Props) {
  const { labelled } = props;
  return labelled ? <LabelledRow {...props} labelled={labelled} /> : <Row {...props} />;
}

/** The same with a label to choose, once it is known what is offered. */
function LabelledRow({ labelled, ...props }: Props & { readonly labelled: Labelled }) {
  const { player, carrier, sharedOutside } = labelled;
  const chooser = useChooser(player, carrier);
  const [chosen, setChosen] = useState<string | null | undefined>(undefined);
  const label = chosen === undefined && chooser.data ? startingLabel(chooser.data) : (chosen ?? null);
  return (
    <Row
      {...props}
      onSend={(given) =>
        props.onSend({ ...given, ...(chooser.data?.labels.length ? { label } : {}) }).then((taken) => {
          if (taken) setChosen(undefined);
          return taken;
        })
      }
      beside={(text) =>
        chooser.data && (
          <WriteLabel
            player={player}
            carrier={carrier}
            chooser={chooser.data}
            text={text}
            sharedOutside={sharedOutside}
            chosen={label}
            onChoose={setChosen}
          />
        )
      }
    />
  );
}

type RowProps = Omit<Props, 'labelled'> & { readonly beside?: (text: string) => ReactNode };

function Row({ label, button, sending, error, start = '', beside, onSend }: RowProps) {
  const [text, setText] = useState(start);
  const [files, setFiles] = useState<readonly File[]>([]);
  const [pasted, setPasted] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const submit = () =>
    void onSend({ text, files, pasted }).then((taken) => {
      if (!taken) return;
      // What was written on while it went stays.
      setText((now) => (now === text ? '' : now));
      setFiles((now) => now.filter((file) => !files.includes(file)));
      setPasted(false);
    });
  return (
    <form
      aria-label={label}
      className="border-t border-rule p-3"
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event: DragEvent) => {
        event.preventDefault();
        setFiles([...files, ...event.dataTransfer.files]);
      }}
    >
      <textarea
        aria-label={label}
        rows={3}
        className="w-full resize-y border border-rule-strong p-1.5"
        placeholder={label}
        value={text}
        onPaste={() => setPasted(true)}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return;
          event.preventDefault();
          submit();
        }}
      />
      {beside?.(text)}
      {error !== null && error !== undefined && (
        <p role="alert" className="text-stop">
          {errorSentence(error)}
        </p>
      )}
      <p className="flex flex-wrap items-center gap-2">
        <button
          type="submit"
          disabled={sending || (text.trim() === '' && files.length === 0)}
          className="rounded bg-[var(--teal)] px-4 py-1.5 text-white disabled:opacity-60"
        >
          {sending ? 'One moment …' : button}
        </button>
        <input
          ref={picker}
          type="file"
          multiple
          aria-label="Add files"
          className="sr-only"
          tabIndex={-1}
          onChange={(event) => {
            setFiles([...files, ...(event.target.files ?? [])]);
            event.target.value = '';
          }}
        />
        <button
          type="button"
          onClick={() => picker.current?.click()}
          className="rounded border border-rule-strong px-3 py-1.5"
        >
          Add a file
        </button>
        {files.map((file, index) => (
          <span key={`${file.name}${index}`} className="border border-rule-strong bg-[#f7faf9] px-2 py-1">
            <b>{file.name}</b> {sizeWords(file.size)}{' '}
            <button
              type="button"
              aria-label={`Remove ${file.name}`}
              onClick={() => setFiles(files.filter((_each, at) => at !== index))}
            >
              ×
            </button>
          </span>
        ))}
        <span className="text-[12.5px] text-ink-2">Or press Ctrl+Enter.</span>
      </p>
    </form>
  );
}
