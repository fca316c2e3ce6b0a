import { autocompletion, type CompletionContext, type CompletionResult } from '@codemirror/autocomplete';
import { yaml } from '@codemirror/lang-yaml';
import { type Diagnostic, lintGutter, setDiagnostics } from '@codemirror/lint';
import type { JsonSchema, SetFault } from '@lantern/contracts';
import type { Policy } from '@lantern/core/policy';
import CodeMirror, { EditorView, type ReactCodeMirrorRef } from '@uiw/react-codemirror';
import { useEffect, useMemo, useRef, useState } from 'react';
import { usePatterns } from '../../../data/patterns';
import { useExchanges, useSpotGroups, useTexts } from '../../../data/policies';
import { policyFromText, policyToText, useSchema } from '../../../data/set-files';
import { Loading, Notice } from '../../../ui/notice';
import { errorSentence } from '../../../wording/errors';
import { completionsAt, type ReferenceNames } from './yaml-completion';

/** Typing pauses this long before the text is read. */
const PAUSE_MS = 400;

interface Props {
  readonly policy: Policy;
  readonly readOnly: boolean;
  readonly onChange: (policy: Policy) => void;
}

/**
 * The policy as text. There is one policy behind both views: text that reads well becomes it at once, and whatever
 * changes it elsewhere is written anew here.
 */
export function TextView({ policy, readOnly, onChange }: Props) {
  const { text, faults, problem, edit } = useText(policy, onChange);
  const schema = useSchema();
  const names = useReferenceNames();
  const editor = useRef<ReactCodeMirrorRef>(null);
  const complete = useMemo(() => completer(schema.data ?? {}, names), [schema.data, names]);
  useEffect(() => {
    const view = editor.current?.view;
    if (view) view.dispatch(setDiagnostics(view.state, diagnosticsOf(faults, view)));
  }, [faults, text]);
  if (text === null) return <Loading what="the text" />;
  return (
    <section aria-label="The policy as text" className="max-w-5xl">
      <CodeMirror
        ref={editor}
        value={text}
        readOnly={readOnly}
        aria-label="Policy text"
        className="border border-rule-strong bg-sheet text-[13px]"
        extensions={[
          yaml(),
          lintGutter(),
          autocompletion({ override: [complete] }),
          EditorView.contentAttributes.of({ 'aria-label': 'Policy text' }),
        ]}
        onChange={edit}
      />
      {problem && <Notice look="stop">{problem}</Notice>}
      {faults.length > 0 && (
        <Notice look="stop">
          <ul>
            {faults.map(({ line, message }) => (
              <li key={`${line ?? ''}${message}`}>
                {line !== null && <b>Line {line}: </b>}
                {message}
              </li>
            ))}
          </ul>
          <p className="mt-1">
            The draft is unchanged. Correct the text, or discard it and continue with the sentences.
          </p>
        </Notice>
      )}
      <p className="mt-1 text-[12.5px] text-ink-2">
        Press Ctrl+Space for suggestions. Fields you leave out have their default value.
      </p>
    </section>
  );
}

function useText(policy: Policy, onChange: (policy: Policy) => void) {
  const [text, setText] = useState<string | null>(null);
  const [faults, setFaults] = useState<readonly SetFault[]>([]);
  const [problem, setProblem] = useState<string | null>(null);
  /** The policy that the text last became or was written from, as it is compared. */
  const known = useRef('');
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const newest = useRef(0);
  useEffect(() => {
    const now = JSON.stringify(policy);
    if (now === known.current) return;
    known.current = now;
    let open = true;
    policyToText(policy).then(
      (written) => {
        if (!open) return;
        setText(written);
        setFaults([]);
      },
      (error: unknown) => setProblem(errorSentence(error)),
    );
    return () => {
      open = false;
    };
  }, [policy]);
  useEffect(() => () => clearTimeout(timer.current), []);
  const read = async (typed: string) => {
    newest.current += 1;
    const mine = newest.current;
    try {
      const result = await policyFromText(policy.id, typed);
      if (mine !== newest.current) return;
      setProblem(null);
      setFaults(result.faults);
      if (!result.policy) return;
      known.current = JSON.stringify(result.policy);
      onChange(result.policy);
    } catch (error) {
      setProblem(errorSentence(error));
    }
  };
  const edit = (typed: string) => {
    setText(typed);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => void read(typed), PAUSE_MS);
  };
  return { text, faults, problem, edit };
}

/** What references may hold, by the field they stand in. */
function useReferenceNames(): ReferenceNames {
  const texts = useTexts();
  const exchanges = useExchanges();
  const spots = useSpotGroups();
  const patterns = usePatterns();
  return useMemo(
    () => ({
      text: (texts.data ?? []).map(({ text }) => text.name),
      exchanges: (exchanges.data ?? []).map(({ exchange }) => exchange.name),
      called: (spots.data ?? []).map((view) => view.spots.name),
      pattern: (patterns.data ?? []).map(({ id, name, origin }) => (origin === 'ready' ? id : name)),
    }),
    [texts.data, exchanges.data, spots.data, patterns.data],
  );
}

function completer(schema: JsonSchema, names: ReferenceNames) {
  return (context: CompletionContext): CompletionResult | null => {
    const word = context.matchBefore(/[\w-]*/);
    if (!context.explicit && (!word || word.from === word.to)) return null;
    const found = completionsAt(context.state.doc.toString(), context.pos, schema, names);
    return found && { from: found.from, options: [...found.options] };
  };
}

function diagnosticsOf(faults: readonly SetFault[], { state }: EditorView): Diagnostic[] {
  return faults.map(({ line, message }) => {
    const { from, to } = state.doc.line(Math.min(Math.max(1, line ?? 1), state.doc.lines));
    return { from, to, message, severity: 'error' };
  });
}
