import { type AnswerText, renderText } from '@lantern/core/policy';
import { languageOf, phrases } from '../../../wording/told';

/** An example of what the fields hold; invented, like everything in the demo. */
const EXAMPLE = {
  item: 'refunds-week-46.xlsx',
  rule: 'Passenger payment data leaves by mail',
  found: '25 × Payment card number',
  values: '•••• •••• •••• 1111',
  to: 'desk@islandholidays.example',
};

/** The text as the person will see it, in every language it has. */
export function Preview({ draft }: { readonly draft: Omit<AnswerText, 'id'> }) {
  const text = { id: '' as AnswerText['id'], ...draft };
  return (
    <section aria-label="Preview">
      <h2 className="mb-1">Preview</h2>
      {draft.words.map(({ language }, index) => (
        <div
          key={index}
          lang={language || undefined}
          className="mb-2 border border-l-4 border-rule-strong bg-sheet px-4 py-2"
        >
          <p className="whitespace-pre-wrap">{renderText(text, language, EXAMPLE) || 'Nothing yet.'}</p>
          {draft.guidance && (
            <p className="text-[12.5px]">{phrases(languageOf(language)).more(draft.guidance)}</p>
          )}
          {draft.contact && (
            <p className="text-[12.5px]">{phrases(languageOf(language)).questions(draft.contact)}</p>
          )}
        </div>
      ))}
    </section>
  );
}
