import { HighlightStyle, StreamLanguage, syntaxHighlighting } from '@codemirror/language';
import { tags } from '@lezer/highlight';
import CodeMirror, { EditorView } from '@uiw/react-codemirror';
import { useMemo } from 'react';
import { Decoration } from '@codemirror/view';

/** Parts of an expression, as colours tell them apart. */
const language = StreamLanguage.define<{ inside: boolean }>({
  startState: () => ({ inside: false }),
  token(stream, state) {
    if (stream.match(/^\\(?:[pP]\{[^}]*\}|u\{[^}]*\}|u[0-9a-fA-F]{4}|x[0-9a-fA-F]{2}|.)/)) return 'escape';
    if (state.inside) {
      if (stream.eat(']')) {
        state.inside = false;
        return 'bracket';
      }
      stream.next();
      return 'string';
    }
    if (stream.eat('[')) {
      state.inside = true;
      return 'bracket';
    }
    if (stream.match(/^\(\?(?:[:=!]|<[=!])/) || stream.match(/^[()|]/)) return 'keyword';
    if (stream.match(/^(?:[*+?]|\{\d+(?:,\d*)?\})\??/)) return 'number';
    if (stream.match(/^[.^$]/)) return 'atom';
    stream.next();
    return null;
  },
});

const colours = HighlightStyle.define([
  { tag: tags.escape, color: 'var(--color-press)' },
  { tag: tags.bracket, color: 'var(--color-press)', fontWeight: '600' },
  { tag: tags.string, color: 'var(--color-press)' },
  { tag: tags.keyword, fontWeight: '700' },
  { tag: tags.number, color: 'var(--color-stop)' },
  { tag: tags.atom, color: 'var(--color-press)', fontWeight: '700' },
]);

const look = EditorView.theme({
  '&': {
    fontSize: '14px',
    backgroundColor: 'var(--color-sheet)',
    border: '1px solid var(--color-rule-strong)',
    borderRadius: '3px',
  },
  '&.cm-focused': { outline: '2px solid var(--color-press)' },
  '.cm-content': { fontFamily: 'var(--font-mono)', padding: '6px 8px', color: 'var(--color-ink)' },
  '.cm-fault': { textDecoration: 'underline wavy var(--color-stop)' },
});

interface Props {
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly readOnly: boolean;
  /** Where a fault begins, in characters; null where there is none. */
  readonly faultAt: number | null;
}

/** One line, or a wrapped one, in which an expression is written; the place of a fault is underlined. */
export function ExpressionField({ value, onChange, readOnly, faultAt }: Props) {
  const extensions = useMemo(() => {
    const at = faultAt === null || value === '' ? null : Math.min(faultAt, value.length - 1);
    return [
      language,
      syntaxHighlighting(colours),
      look,
      EditorView.lineWrapping,
      EditorView.contentAttributes.of({ 'aria-label': 'Expression' }),
      ...(at === null
        ? []
        : [
            EditorView.decorations.of(
              Decoration.set([Decoration.mark({ class: 'cm-fault' }).range(at, value.length)]),
            ),
          ]),
    ];
  }, [faultAt, value]);
  return (
    <CodeMirror
      value={value}
      onChange={(next) => onChange(next.replace(/[\r\n]+/g, ''))}
      readOnly={readOnly}
      basicSetup={{
        lineNumbers: false,
        foldGutter: false,
        highlightActiveLine: false,
        highlightActiveLineGutter: false,
        autocompletion: false,
      }}
      extensions={extensions}
      theme="none"
    />
  );
}
