import type { PatternDetail, WordListOutcome } from '@lantern/contracts';
import { MAX_LISTED_WORDS, readWordLines, type WordListPattern } from '@lantern/core/detection';
import { type PatternId } from '@lantern/core/shared';
import { useMemo, useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { useSaveWordList } from '../../data/patterns';
import { useMay } from '../../data/session';
import { Button } from '../../ui/button';
import { TextArea, TextField } from '../../ui/field';
import { Notice } from '../../ui/notice';
import { errorSentence } from '../../wording/errors';
import { exactTime } from '../../wording/times';
import { Specimens } from './specimens/specimens';
import { PatternHead } from './pattern-head';
import { outcomeWords } from './outcome-words';

export function WordListPage() {
  return <WordListEditor pattern={null} />;
}

/** A new list moves to an address of its own; what became of its lines moves with it. */
function outcomeIn(state: unknown): WordListOutcome | null {
  return typeof state === 'object' && state !== null && 'outcome' in state
    ? (state.outcome as WordListOutcome)
    : null;
}

/** Longest list that is counted while typing; longer ones are counted when they are saved. */
const COUNTED_WHILE_TYPING = 400_000;

const thresholdText = (pattern: PatternDetail | null): string => String(pattern?.own?.threshold ?? '');

function listOf(
  id: string,
  text: string,
  { threshold, inside }: { readonly threshold: number | null; readonly inside: boolean },
): WordListPattern {
  const { words } = readWordLines(text);
  const together = threshold === null ? {} : { threshold };
  return {
    origin: 'own',
    id: id as PatternId,
    name: '',
    kind: 'own-words',
    about: '',
    words,
    ...together,
    inside,
  };
}

/** Writing or changing an own word list on one page. */
export function WordListEditor({ pattern }: { readonly pattern: PatternDetail | null }) {
  const navigate = useNavigate();
  const mayWrite = useMay('patterns.write');
  const [name, setName] = useState(pattern?.name ?? '');
  const [about, setAbout] = useState(pattern?.about ?? '');
  const [words, setWords] = useState(pattern?.own?.text ?? '');
  const [inside, setInside] = useState(pattern?.own?.inside ?? false);
  const [together, setTogether] = useState(thresholdText(pattern));
  const [outcome, setOutcome] = useState<WordListOutcome | null>(outcomeIn(useLocation().state));
  const save = useSaveWordList(pattern?.own ? { id: pattern.id, version: pattern.own.version } : undefined);
  const counted = useMemo(
    () => (words.length > COUNTED_WHILE_TYPING ? null : readWordLines(words).words.length),
    [words],
  );
  const changed =
    name !== (pattern?.name ?? '') ||
    about !== (pattern?.about ?? '') ||
    words !== (pattern?.own?.text ?? '') ||
    inside !== (pattern?.own?.inside ?? false) ||
    together !== thresholdText(pattern);
  const threshold = together.trim() === '' ? null : Number(together.replace(',', '.'));
  const submit = () =>
    save.mutate(
      { name, about, words, threshold, inside },
      {
        onSuccess: (saved) => {
          setOutcome(saved.outcome);
          setWords(saved.pattern.own?.text ?? words);
          toast.success(`Saved as a draft: ${saved.outcome.kept} words`);
          if (!pattern)
            void navigate(`/patterns/${saved.pattern.id}`, {
              replace: true,
              state: { outcome: saved.outcome },
            });
        },
      },
    );
  const refusal = mayWrite
    ? name.trim() === ''
      ? 'Give the list a name first'
      : threshold !== null && !(threshold > 0 && threshold <= 1000)
        ? 'The minimum total must be above 0, or empty'
        : changed
          ? undefined
          : 'No changes'
    : 'This account reads patterns and does not write them';
  return (
    <div className="h-full overflow-auto px-7 py-4">
      <div className="max-w-4xl">
        <PatternHead pattern={pattern} untitled="A new word list" what="list">
          <Button look="main" onClick={submit} refusal={refusal}>
            {save.isPending ? 'Saving …' : 'Save draft'}
          </Button>
        </PatternHead>
      </div>
      <div className="flex max-w-4xl flex-col gap-3">
        {save.isError && <Notice look="stop">{errorSentence(save.error)}</Notice>}
        {outcome && <Notice look="go">{outcomeWords(outcome)}</Notice>}
        <TextField
          label="Name"
          value={name}
          maxLength={120}
          onChange={(event) => setName(event.target.value)}
        />
        <TextField
          label="What it is for"
          value={about}
          maxLength={4000}
          onChange={(event) => setAbout(event.target.value)}
        />
        <TextArea
          label="Words and phrases, one per line"
          hint={`${counted === null ? 'Many words; they are counted when saved' : `${counted} different ${counted === 1 ? 'word' : 'words'}`}. Case and accents are ignored. Each word has a certainty of 95. To give a word another weight, write a tab or a semicolon and a number after it. At most ${MAX_LISTED_WORDS.toLocaleString('en')}.`}
          rows={16}
          mono
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
        <HowTheyCount inside={inside} onInside={setInside} together={together} onTogether={setTogether} />
        {pattern?.own && counted !== null && (
          <Specimens
            pattern={pattern.id}
            saved={listOf(pattern.id, pattern.own.text, pattern.own)}
            written={listOf(pattern.id, words, { threshold, inside })}
          />
        )}
        {pattern?.own && (
          <p className="text-[12.5px] text-ink-2">
            Last saved by {pattern.own.updatedBy},{' '}
            <span title={exactTime(pattern.own.updatedAt)}>version {pattern.own.version}</span>. Used by{' '}
            {pattern.usedBy.join(', ') || 'no rule yet'}. A draft takes effect when it is{' '}
            <Link className="part" to="/publish">
              published
            </Link>
            .
          </p>
        )}
      </div>
    </div>
  );
}

interface CountProps {
  readonly inside: boolean;
  readonly onInside: (inside: boolean) => void;
  readonly together: string;
  readonly onTogether: (together: string) => void;
}

function HowTheyCount({ inside, onInside, together, onTogether }: CountProps) {
  return (
    <>
      <label className="flex items-center gap-2 text-[13px]">
        <input type="checkbox" checked={inside} onChange={(event) => onInside(event.target.checked)} />
        Also inside longer words
      </label>
      <TextField
        label="Minimum total of different words in a text"
        hint="A sum of weights. Leave empty to find each word on its own."
        inputMode="decimal"
        value={together}
        onChange={(event) => onTogether(event.target.value)}
      />
    </>
  );
}
