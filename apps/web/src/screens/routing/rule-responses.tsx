import { ROUTED_RESPONSES, type RoutedResponse } from '@lantern/contracts';
import { useMay } from '../../data/session';
import { TextArea, TextField } from '../../ui/field';
import { NumberField } from '../../ui/number-field';
import { RESPONSE_WORDS } from '../../wording/desk';

const isMail = ({ kind }: RoutedResponse): boolean => kind !== 'take-back' && kind !== 'sign-out';
const USUAL_HOURS = 48;

interface Props {
  readonly responses: readonly RoutedResponse[];
  readonly onChange: (responses: RoutedResponse[]) => void;
}

/** Responses of a routing rule. Empty words stand for ours, in the person's language. */
export function RuleResponses({ responses, onChange }: Props) {
  const may = useMay('incidents.respond');
  const change = (kind: RoutedResponse['kind'], part: Partial<RoutedResponse>) =>
    onChange(responses.map((each) => (each.kind === kind ? compact({ ...each, ...part }) : each)));
  return (
    <fieldset className="col-span-2" disabled={!may}>
      <legend className="text-ink-2">Respond at once</legend>
      {!may && <p className="text-[12.5px] text-ink-2">Your account may not respond to incidents.</p>}
      {ROUTED_RESPONSES.map((kind) => {
        const chosen = responses.find((each) => each.kind === kind);
        return (
          <div key={kind} className="py-0.5">
            <label className="flex min-h-6 items-center gap-2">
              <input
                type="checkbox"
                checked={chosen !== undefined}
                onChange={(event) =>
                  onChange(
                    event.target.checked
                      ? [...responses, kind === 'ask-person' ? { kind, hours: USUAL_HOURS } : { kind }]
                      : responses.filter((each) => each.kind !== kind),
                  )
                }
              />
              {RESPONSE_WORDS[kind]}
            </label>
            {chosen && isMail(chosen) && <Words response={chosen} onChange={(part) => change(kind, part)} />}
          </div>
        );
      })}
      {responses.length > 0 && (
        <p className="text-[12.5px] text-ink-2">
          At most 5 per person and hour. Incidents that only silent rules made are skipped. The history of
          each incident shows what was done.
        </p>
      )}
    </fieldset>
  );
}

interface WordsProps {
  readonly response: RoutedResponse;
  readonly onChange: (part: Partial<RoutedResponse>) => void;
}

function Words({ response, onChange }: WordsProps) {
  return (
    <div className="flex flex-col gap-2 py-1 pl-6">
      <TextField
        label="Subject"
        maxLength={200}
        placeholder="Empty: our words, in the person’s language"
        value={response.subject ?? ''}
        onChange={(event) => onChange({ subject: event.target.value })}
      />
      <TextArea
        label="Text"
        rows={3}
        maxLength={4_000}
        hint="Fields: {person}, {number}, {time}, {title}, {found}, {destination}. Empty: our words."
        value={response.text ?? ''}
        onChange={(event) => onChange({ text: event.target.value })}
      />
      {response.kind === 'ask-person' && (
        <div className="w-40">
          <NumberField
            label="Hours to answer"
            most={720}
            value={response.hours ?? USUAL_HOURS}
            onChange={(hours) => onChange({ hours })}
          />
        </div>
      )}
    </div>
  );
}

/** The response without empty words. */
function compact({ subject, text, ...rest }: RoutedResponse): RoutedResponse {
  return { ...rest, ...(subject ? { subject } : {}), ...(text ? { text } : {}) };
}
