import { useState } from 'react';
import { toast } from 'sonner';
import { inspectFile } from '../../../data/patterns';
import { useSaveSpecimen } from '../../../data/specimens';
import { useMay } from '../../../data/session';
import { useLantern } from '../../../stores/lantern-store';
import { Button } from '../../../ui/button';
import { TextArea, TextField } from '../../../ui/field';
import { Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';

/** Characters of a text that make its name. */
const NAME_LENGTH = 48;

const nameOf = (text: string): string => text.trim().replace(/\s+/g, ' ').slice(0, NAME_LENGTH);

interface Props {
  readonly pattern: string;
  /** What stands in the Lantern, and what the pattern as written finds in it. */
  readonly text: string;
  readonly values: readonly string[];
}

/** Keeps the text of the Lantern, or of a file, as a specimen: with what is found in it, or as something to leave alone. */
export function KeepSpecimen({ pattern, text, values }: Props) {
  const save = useSaveSpecimen();
  const mayWrite = useMay('patterns.write');
  const { setText, setOpen } = useLantern();
  const [wanted, setWanted] = useState<string | null>(null);
  const [name, setName] = useState('');
  const [fault, setFault] = useState('');
  if (!mayWrite || pattern === '') return null;
  const lines = (wanted ?? values.join('\n')).split('\n').map((line) => line.trim());
  const keep = (list: readonly string[]) =>
    save.mutate(
      { name: name.trim() || nameOf(text), text, expected: [{ pattern, values: list }] },
      {
        onSuccess: () => {
          toast.success('Kept as a specimen');
          setWanted(null);
          setName('');
        },
      },
    );
  const takeFile = async (file: File | undefined) => {
    if (!file) return;
    setFault('');
    try {
      const { parts } = await inspectFile(file);
      const texts = parts.flatMap((part) => (part.status === 'read' ? [part.text] : []));
      if (texts.length === 0) throw new Error('nothing readable');
      setText(texts.join('\n\n'));
      setName(file.name.slice(0, 120));
      setOpen(true);
    } catch (error) {
      setFault(
        error instanceof Error && error.message === 'nothing readable'
          ? `${file.name} contains no readable text. Nothing was kept.`
          : errorSentence(error),
      );
    }
  };
  const refusal = text.trim() === '' ? 'Put a text into the Lantern first' : undefined;
  return (
    <div className="mt-3 flex flex-col gap-2 border border-rule bg-sheet p-3">
      <p className="text-[13px]">
        Keep {text.trim() === '' ? 'a text' : `"${nameOf(text)}"`} as a specimen. Take it from the Lantern
        (type or paste it there), or{' '}
        <label className="part cursor-pointer">
          from a file
          <input
            type="file"
            className="sr-only"
            aria-label="File to keep as a specimen"
            onChange={(event) => {
              void takeFile(event.target.files?.[0]);
              event.target.value = '';
            }}
          />
        </label>
        .
      </p>
      {fault && <Notice look="stop">{fault}</Notice>}
      {save.isError && <Notice look="stop">{errorSentence(save.error)}</Notice>}
      <TextField
        label="Name of the specimen"
        value={name}
        placeholder={nameOf(text)}
        maxLength={120}
        onChange={(event) => setName(event.target.value)}
      />
      <TextArea
        label="Values that should be found, one per line"
        rows={3}
        mono
        value={wanted ?? values.join('\n')}
        onChange={(event) => setWanted(event.target.value)}
      />
      <div className="flex gap-2">
        <Button
          onClick={() => keep(lines.filter((line) => line !== ''))}
          refusal={
            refusal ??
            (lines.every((line) => line === '') ? 'Enter the values that should be found' : undefined)
          }
        >
          These should be found
        </Button>
        <Button onClick={() => keep([])} refusal={refusal}>
          Nothing should be found
        </Button>
      </div>
    </div>
  );
}
