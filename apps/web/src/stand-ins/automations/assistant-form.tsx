import type { BuilderRegister } from '@lantern/contracts/crossings';
import {
  type Assistant,
  type AssistantAudience,
  AUDIENCE_NAMES,
  AUDIENCES,
  OUTLET_NAMES,
  OUTLETS,
} from '@lantern/core/automations';
import { useState } from 'react';

interface Props {
  readonly draft: Assistant;
  readonly register: BuilderRegister;
  readonly onChange: (draft: Assistant) => void;
}

const button = 'rounded border border-rule-strong bg-white px-2.5 py-1';

/** An assistant: what it reads, what it may do, who may use it, and where it is published. */
export function AssistantForm({ draft, register, onChange }: Props) {
  const { sources } = draft;
  const [site, setSite] = useState('');
  const reads = (name: string): boolean =>
    sources.some((source) => source.kind === 'place' && source.name === name);
  return (
    <div className="flex max-w-2xl flex-col gap-4 p-4">
      <fieldset>
        <legend className="font-semibold">What it reads</legend>
        <div className="grid grid-cols-2 gap-x-6">
          {register.places.map(({ name, label, labelName }) => (
            <label key={name} className="flex min-h-[26px] items-center gap-1.5">
              <input
                type="checkbox"
                checked={reads(name)}
                onChange={({ target }) =>
                  onChange({
                    ...draft,
                    sources: target.checked
                      ? [...sources, { kind: 'place', name, label }]
                      : sources.filter((source) => source.kind !== 'place' || source.name !== name),
                  })
                }
              />
              {name}
              {labelName && <span className="text-[12.5px] text-ink-2">{labelName}</span>}
            </label>
          ))}
        </div>
        {sources.map((source, at) =>
          source.kind === 'site' ? (
            <p key={source.address} className="flex gap-2">
              <span className="font-mono text-[12.5px] break-all">{source.address}</span>
              <button
                type="button"
                className="min-h-6 underline"
                onClick={() =>
                  onChange({ ...draft, sources: sources.filter((_each, index) => index !== at) })
                }
              >
                Remove
              </button>
            </p>
          ) : null,
        )}
        <span className="mt-1 flex gap-2">
          <input
            aria-label="Address of a site it reads"
            placeholder="https://"
            className="w-72 border border-rule-strong px-1.5"
            value={site}
            onChange={({ target }) => setSite(target.value)}
          />
          <button
            type="button"
            className={button}
            disabled={site.trim() === ''}
            onClick={() => {
              onChange({ ...draft, sources: [...sources, { kind: 'site', address: site.trim() }] });
              setSite('');
            }}
          >
            Add a site
          </button>
        </span>
      </fieldset>
      <fieldset>
        <legend className="font-semibold">What it may do, beside answering</legend>
        <Doings draft={draft} register={register} onChange={onChange} />
      </fieldset>
      <label className="flex items-center gap-2">
        Who may use it
        <select
          className="border border-rule-strong bg-white px-1.5 py-1"
          value={draft.audience}
          onChange={({ target }) => onChange({ ...draft, audience: target.value as AssistantAudience })}
        >
          {AUDIENCES.map((each) => (
            <option key={each} value={each}>
              {AUDIENCE_NAMES[each]}
            </option>
          ))}
        </select>
      </label>
      {draft.audience === 'named' && <NamedPeople draft={draft} onChange={onChange} />}
      <fieldset className="flex items-center gap-4">
        <legend className="sr-only">Where it is published</legend>
        Published on
        {OUTLETS.map((outlet) => (
          <label key={outlet} className="flex min-h-[26px] items-center gap-1.5">
            <input
              type="checkbox"
              checked={draft.published.includes(outlet)}
              onChange={({ target }) =>
                onChange({
                  ...draft,
                  published: target.checked
                    ? [...draft.published, outlet]
                    : draft.published.filter((each) => each !== outlet),
                })
              }
            />
            {OUTLET_NAMES[outlet]}
          </label>
        ))}
      </fieldset>
    </div>
  );
}

function NamedPeople({ draft, onChange }: Omit<Props, 'register'>) {
  const { people = [] } = draft;
  return (
    <label className="block">
      Their mail addresses, one a line
      <textarea
        className="mt-0.5 block h-20 w-96 border border-rule-strong bg-white px-1.5 py-1"
        value={people.join('\n')}
        onChange={({ target }) => onChange({ ...draft, people: target.value.split('\n') })}
        onBlur={() =>
          onChange({ ...draft, people: people.map((each) => each.trim()).filter((each) => each !== '') })
        }
      />
    </label>
  );
}

function Doings({ draft, register, onChange }: Props) {
  const { steps } = draft;
  return (
    <>
      {register.services.flatMap((service) =>
        service.operations.map((operation) => {
          const has = steps.some((step) => step.service === service.id && step.operation === operation.id);
          return (
            <label
              key={`${service.id} ${operation.id}`}
              className="mr-5 inline-flex min-h-[26px] items-center gap-1.5"
            >
              <input
                type="checkbox"
                checked={has}
                onChange={() =>
                  onChange({
                    ...draft,
                    steps: has
                      ? steps.filter((step) => step.service !== service.id || step.operation !== operation.id)
                      : [
                          ...steps,
                          {
                            ...{ id: `${service.id} ${operation.id}`, name: operation.name },
                            ...{ service: service.id, operation: operation.id },
                          },
                        ],
                  })
                }
              />
              {service.name}: {operation.name || operation.id}
            </label>
          );
        }),
      )}
    </>
  );
}
