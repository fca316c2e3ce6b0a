import { choosingWords, type Label, leftToSetter, printedHandling, printedMarks } from '@lantern/core/labels';
import { EFFECT_WORDS } from '../../../wording/effects';
import { Flag } from './flag';

const EXAMPLE = {
  owner: 'ada.merrick@merrowstrait.example',
  setter: 'ada.merrick@merrowstrait.example',
  how: 'by-hand',
} as const;

/** A page, a mail and the chooser as people will see them, while the label is written. */
export function LabelPreview({ label, at }: { readonly label: Omit<Label, 'id'>; readonly at: number }) {
  const marks = printedMarks(label, { ...EXAMPLE, at });
  const lines = (place: string) => marks.filter((mark) => mark.place === place);
  // A page of paper is drawn at 0.42 of its size.
  const scaled = (points: number): string => `${points * 0.42 * 1.333}px`;
  return (
    <aside aria-label="Preview" className="flex flex-col gap-4">
      <section>
        <h2 className="mb-1">On a page</h2>
        <div className="relative h-[353px] w-[250px] overflow-hidden border border-rule-strong bg-white text-black shadow-sm">
          {lines('across').map((mark, index) => (
            <span
              key={index}
              aria-hidden
              className="absolute top-1/2 left-1/2 font-sans whitespace-nowrap"
              style={{
                fontSize: scaled(mark.points),
                color: mark.colour,
                transform: `translate(-50%, -50%) rotate(${-mark.slant}deg)`,
              }}
            >
              {mark.line}
            </span>
          ))}
          <div className="relative flex h-full flex-col px-7 py-3">
            <div className="text-center">
              {lines('top').map((mark, index) => (
                <p key={index} style={{ fontSize: scaled(mark.points), color: mark.colour, lineHeight: 1.3 }}>
                  {mark.line}
                </p>
              ))}
            </div>
            <div className="mt-4 flex-1 space-y-1.5" aria-hidden>
              {[92, 100, 96, 88, 100, 94, 60, 98, 90, 97, 82].map((width, index) => (
                <span key={index} className="block h-[3px] bg-[#c9c5bd]" style={{ width: `${width}%` }} />
              ))}
            </div>
            <div className="text-center">
              {lines('foot').map((mark, index) => (
                <p key={index} style={{ fontSize: scaled(mark.points), color: mark.colour, lineHeight: 1.3 }}>
                  {mark.line}
                </p>
              ))}
            </div>
          </div>
        </div>
      </section>
      <section>
        <h2 className="mb-1">On a mail</h2>
        <div className="w-[250px] border border-rule-strong bg-white px-3 py-2 text-[12px] text-black">
          <p className="truncate font-semibold">{marks.length > 0 && `[${label.name}] `}Minutes of Tuesday</p>
          {[...lines('top'), ...lines('foot')].length > 0 && <hr className="my-1 border-[#ddd4c3]" />}
          {lines('top').map((mark, index) => (
            <p key={index} className="truncate text-center">
              {mark.line}
            </p>
          ))}
          <p className="my-1 text-[#5a6472]">Dear all, …</p>
          {lines('foot').map((mark, index) => (
            <p key={index} className="truncate text-center">
              {mark.line}
            </p>
          ))}
        </div>
      </section>
      <section>
        <h2 className="mb-1">In the label menu</h2>
        <ChooserEntry label={label} />
      </section>
    </aside>
  );
}

function ChooserEntry({ label }: { readonly label: Omit<Label, 'id'> }) {
  const words = choosingWords(label, 'en');
  const left = leftToSetter(label.handling);
  return (
    <div className="w-[250px] border border-rule-strong bg-white px-3 py-2 text-[12px] text-black">
      <p className="font-semibold">
        <Flag colour={label.colour} name={label.name} />
      </p>
      <p>{words?.when ?? 'No guidance for the people who choose.'}</p>
      {words?.not && <p className="text-[#5a6472]">{words.not}</p>}
      <p className="mt-1 text-[#5a6472]">{printedHandling(label.handling)}</p>
      {left.length > 0 && (
        <p className="mt-1">You choose who may {left.map((effect) => EFFECT_WORDS[effect]).join(', ')}.</p>
      )}
    </div>
  );
}
