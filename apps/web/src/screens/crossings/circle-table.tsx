import { type CrossingSet, crossing } from '@lantern/core/automations';
import { useState } from 'react';
import { Button } from '../../ui/button';
import { cellSentence, namesIn } from '../../wording/crossings';
import type { PartProps } from './sets-page';

/** Circles, the arrows between them, and the table of services that comes of both, with every cell explained. */
export function CircleTable({ draft, view, mayWrite, onChange }: PartProps) {
  const { circles, arrows, off } = draft;
  const services = view.services.map(({ service }) => service);
  const placeOf = (id: string): string =>
    off.includes(id) ? 'off' : (circles.find((circle) => circle.services.includes(id))?.id ?? '');
  const place = (service: string, to: string) =>
    onChange({
      off: [...off.filter((each) => each !== service), ...(to === 'off' ? [service] : [])],
      circles: circles.map((circle) => ({
        ...circle,
        services: [
          ...circle.services.filter((each) => each !== service),
          ...(circle.id === to ? [service] : []),
        ],
      })),
    });
  return (
    <>
      <section aria-label="Which services may meet?">
        <h2 className="mb-1 !text-[15px] !text-ink">Which services may meet?</h2>
        <p className="mb-1 text-[12.5px] text-ink-2">
          Within a circle everything may meet. Between circles data goes only where an arrow leads.
        </p>
        <div className="flex flex-wrap gap-2">
          {circles.map((circle, at) => (
            <span key={circle.id} className="flex items-center gap-1">
              <input
                aria-label={`Name of circle ${at + 1}`}
                className="field !w-40 !py-0.5"
                required
                maxLength={120}
                readOnly={!mayWrite}
                value={circle.name}
                onChange={({ target }) =>
                  onChange({
                    circles: circles.map((each, index) =>
                      index === at ? { ...each, name: target.value } : each,
                    ),
                  })
                }
              />
              {mayWrite && (
                <Button
                  look="quiet"
                  aria-label={`Remove circle ${circle.name}`}
                  onClick={() =>
                    onChange({
                      circles: circles.filter((_each, index) => index !== at),
                      arrows: arrows.filter(({ from, to }) => from !== circle.id && to !== circle.id),
                    })
                  }
                >
                  ×
                </Button>
              )}
            </span>
          ))}
          {mayWrite && (
            <Button
              onClick={() =>
                onChange({
                  circles: [
                    ...circles,
                    { id: crypto.randomUUID(), name: `Circle ${circles.length + 1}`, services: [] },
                  ],
                })
              }
            >
              Add a circle
            </Button>
          )}
        </div>
        <div className="mt-3 grid grid-cols-3 gap-x-6 gap-y-1">
          {services.map((service) => (
            <label key={service.id} className="flex items-center justify-between gap-2">
              <span className="truncate">{service.name}</span>
              <select
                className="field !w-36 !py-0.5"
                disabled={!mayWrite}
                value={placeOf(service.id)}
                onChange={({ target }) => place(service.id, target.value)}
              >
                <option value="">in no circle</option>
                {circles.map((circle) => (
                  <option key={circle.id} value={circle.id}>
                    {circle.name}
                  </option>
                ))}
                <option value="off">switched off</option>
              </select>
            </label>
          ))}
        </div>
      </section>
      {circles.length > 1 && <Arrows draft={draft} mayWrite={mayWrite} onChange={onChange} />}
      <Explained draft={draft} view={view} />
    </>
  );
}

function Arrows({ draft, mayWrite, onChange }: Omit<PartProps, 'view'>) {
  const { circles, arrows } = draft;
  const has = (from: string, to: string): boolean =>
    arrows.some((arrow) => arrow.from === from && arrow.to === to);
  const turn = (from: string, to: string) =>
    onChange({
      arrows: has(from, to)
        ? arrows.filter((arrow) => arrow.from !== from || arrow.to !== to)
        : [...arrows, { from, to }],
    });
  return (
    <section aria-label="Where do arrows lead?">
      <h2 className="mb-1 !text-[15px] !text-ink">Where do arrows lead?</h2>
      <table>
        <thead className="text-left text-[12.5px] text-ink-2">
          <tr>
            <th className="pr-4 font-normal">From ↓ to →</th>
            {circles.map((circle) => (
              <th key={circle.id} className="px-3 font-normal">
                {circle.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {circles.map((from) => (
            <tr key={from.id}>
              <th className="pr-4 text-left font-normal">{from.name}</th>
              {circles.map((to) => (
                <td key={to.id} className="px-3 text-center">
                  {from.id === to.id ? (
                    '·'
                  ) : (
                    <input
                      type="checkbox"
                      aria-label={`Data may go from ${from.name} to ${to.name}`}
                      disabled={!mayWrite}
                      checked={has(from.id, to.id)}
                      onChange={() => turn(from.id, to.id)}
                    />
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** Two services chosen, and what the set says about data going from the one to the other, with the reason. */
function Explained({ draft, view }: Pick<PartProps, 'draft' | 'view'>) {
  const set: CrossingSet = { id: 'draft', ...draft };
  const services = view.services.map(({ service }) => service);
  const [from, setFrom] = useState('');
  const [to, setTo] = useState('');
  const names = namesIn(
    { ...view, sets: [{ set, problems: [], version: 1, state: 'new', updatedAt: '', updatedBy: '' }] },
    new Map(),
  );
  const cell = from && to ? crossing(set, from, to) : null;
  const choose = (label: string, value: string, onChange: (value: string) => void) => (
    <select
      aria-label={label}
      className="field !w-48 !py-0.5"
      value={value}
      onChange={({ target }) => onChange(target.value)}
    >
      <option value="">a service</option>
      {services.map(({ id, name }) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </select>
  );
  return (
    <section aria-label="May data go from one to another?">
      <h2 className="mb-1 !text-[15px] !text-ink">May data go from one to another?</h2>
      <p className="flex flex-wrap items-center gap-2">
        From {choose('From', from, setFrom)} to {choose('To', to, setTo)}
        {cell && (
          <span role="status">
            <b className={cell.allowed ? '' : 'text-stop'}>{cell.allowed ? 'Yes.' : 'No.'}</b>{' '}
            {cellSentence(cell, 'draft', names)}
          </span>
        )}
      </p>
      <div className="mt-2 max-w-full overflow-x-auto">
        <table className="text-[12.5px]">
          <thead>
            <tr>
              <th className="pr-3 text-left font-normal text-ink-2">From ↓ to →</th>
              {services.map(({ id, name }) => (
                <th key={id} className="h-24 w-7 align-bottom font-normal">
                  <span className="inline-block max-h-24 [writing-mode:vertical-rl] rotate-180">{name}</span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {services.map((row) => (
              <tr key={row.id}>
                <th className="pr-3 text-left font-normal whitespace-nowrap">{row.name}</th>
                {services.map((column) => {
                  const each = crossing(set, row.id, column.id);
                  return (
                    <td key={column.id} className="p-0 text-center">
                      <button
                        type="button"
                        className={`h-6 w-7 ${each.allowed ? 'bg-press-soft' : 'text-stop'} ${from === row.id && to === column.id ? 'outline-2 outline-ink' : ''}`}
                        aria-label={`${row.name} to ${column.name}: ${each.allowed ? 'yes' : 'no'}`}
                        title={cellSentence(each, 'draft', names)}
                        onClick={() => {
                          setFrom(row.id);
                          setTo(column.id);
                        }}
                      >
                        {each.allowed ? '→' : '–'}
                      </button>
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
