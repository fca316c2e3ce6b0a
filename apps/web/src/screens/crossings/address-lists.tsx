import {
  type AddressLine,
  type AddressList,
  judgeAddress,
  readAddress,
  SITES,
} from '@lantern/core/automations';
import { useState } from 'react';
import { Button } from '../../ui/button';
import { TextField } from '../../ui/field';
import { ADDRESS_FAULT_WORDS } from '../../wording/crossings';
import type { PartProps } from './sets-page';

const NEW_LINE: AddressLine = { host: '', under: false, allow: true };

/** Which addresses a service may call: ordered lines, and an address to try them on. */
export function AddressLists({ draft, view, mayWrite, onChange }: PartProps) {
  const { addresses } = draft;
  const callers = view.services
    .map(({ service }) => service)
    .filter(({ operations }) => operations.some((each) => each.takesAddress));
  const open = [
    ...callers.map(({ id, name }) => ({ id, name })),
    { id: SITES, name: 'Sites that assistants read' },
  ].filter(({ id }) => !addresses.some(({ service }) => service === id));
  const nameOf = (id: string): string =>
    id === SITES
      ? 'Sites that assistants read'
      : (view.services.find(({ service }) => service.id === id)?.service.name ?? id);
  const setAt = (at: number, list: AddressList) =>
    onChange({ addresses: addresses.map((each, index) => (index === at ? list : each)) });
  return (
    <section aria-label="Which addresses may be called?">
      <h2 className="mb-1 !text-[15px] !text-ink">Which addresses may be called?</h2>
      {addresses.map((list, at) => (
        <OneList
          key={list.service}
          list={list}
          name={nameOf(list.service)}
          mayWrite={mayWrite}
          onChange={(next) => setAt(at, next)}
          onRemove={() => onChange({ addresses: addresses.filter((_each, index) => index !== at) })}
        />
      ))}
      {mayWrite && open.length > 0 && (
        <span className="mt-1 flex flex-wrap gap-2">
          {open.map(({ id, name }) => (
            <Button
              key={id}
              onClick={() =>
                onChange({
                  addresses: [...addresses, { service: id, lines: [NEW_LINE], otherwise: 'refused' }],
                })
              }
            >
              List for {name}
            </Button>
          ))}
        </span>
      )}
    </section>
  );
}

interface ListProps {
  readonly list: AddressList;
  readonly name: string;
  readonly mayWrite: boolean;
  readonly onChange: (list: AddressList) => void;
  readonly onRemove: () => void;
}

function OneList({ list, name, mayWrite, onChange, onRemove }: ListProps) {
  const [tried, setTried] = useState('');
  const read = readAddress(tried);
  const verdict = read.status === 'read' ? judgeAddress(list, read.address) : null;
  const setLine = (at: number, change: Partial<AddressLine>) =>
    onChange({
      ...list,
      lines: list.lines.map((line, index) => (index === at ? withoutEmpty({ ...line, ...change }) : line)),
    });
  const move = (at: number, by: number) => {
    const lines = [...list.lines];
    const [line] = lines.splice(at, 1);
    if (line) lines.splice(Math.max(0, at + by), 0, line);
    onChange({ ...list, lines });
  };
  return (
    <fieldset className="mb-3 border-l-2 border-rule-strong pl-3">
      <legend className="font-semibold">{name}</legend>
      <ol>
        {list.lines.map((line, at) => (
          <Line
            key={at}
            line={line}
            at={at}
            name={name}
            isDeciding={verdict?.line === at}
            mayWrite={mayWrite}
            onChange={(change) => setLine(at, change)}
            onMove={(by) => move(at, by)}
            onRemove={() => onChange({ ...list, lines: list.lines.filter((_each, index) => index !== at) })}
          />
        ))}
      </ol>
      <p
        className={`flex items-center gap-2 py-0.5 ${verdict && verdict.line === null ? 'bg-press-soft' : ''}`}
      >
        <label className="flex items-center gap-2">
          What no line names
          <select
            className="field !w-auto !py-0.5"
            disabled={!mayWrite}
            value={list.otherwise}
            onChange={({ target }) => onChange({ ...list, otherwise: target.value as 'allowed' | 'refused' })}
          >
            <option value="refused">is refused</option>
            <option value="allowed">is allowed</option>
          </select>
        </label>
        {mayWrite && (
          <>
            <Button onClick={() => onChange({ ...list, lines: [...list.lines, NEW_LINE] })}>
              Add a line
            </Button>
            <Button look="quiet" onClick={onRemove}>
              Remove this list
            </Button>
          </>
        )}
      </p>
      <div className="mt-1 flex items-end gap-3">
        <TextField
          label={`Try an address on ${name}`}
          className="w-96"
          placeholder="https://www.tides.example/today"
          value={tried}
          onChange={({ target }) => setTried(target.value)}
        />
        {tried !== '' && (
          <p role="status" className="pb-1.5">
            {verdict === null ? (
              <span className="text-stop">{read.status === 'fault' && ADDRESS_FAULT_WORDS[read.fault]}</span>
            ) : (
              <>
                <b className={verdict.allowed ? '' : 'text-stop'}>
                  {verdict.allowed ? 'Allowed' : 'Refused'}
                </b>
                {verdict.line === null ? ': no line names it.' : ` by line ${verdict.line + 1}.`}
              </>
            )}
          </p>
        )}
      </div>
    </fieldset>
  );
}

/** Fields that say nothing are left out. */
function withoutEmpty({ scheme, port, path, ...line }: AddressLine): AddressLine {
  return { ...line, ...(scheme ? { scheme } : {}), ...(port ? { port } : {}), ...(path ? { path } : {}) };
}

interface LineProps {
  readonly line: AddressLine;
  readonly at: number;
  readonly name: string;
  /** It decides about the address that is tried. */
  readonly isDeciding: boolean;
  readonly mayWrite: boolean;
  readonly onChange: (change: Partial<AddressLine>) => void;
  readonly onMove: (by: number) => void;
  readonly onRemove: () => void;
}

function Line({ line, at, name, isDeciding, mayWrite, onChange, onMove, onRemove }: LineProps) {
  return (
    <li className={`flex flex-wrap items-center gap-2 py-0.5 ${isDeciding ? 'bg-press-soft' : ''}`}>
      <span className="w-5 text-right text-ink-2">{at + 1}</span>
      <select
        aria-label={`What line ${at + 1} of ${name} does`}
        className="field !w-[86px] !py-0.5"
        disabled={!mayWrite}
        value={line.allow ? 'allow' : 'refuse'}
        onChange={({ target }) => onChange({ allow: target.value === 'allow' })}
      >
        <option value="allow">allow</option>
        <option value="refuse">refuse</option>
      </select>
      <input
        aria-label={`Host of line ${at + 1} of ${name}`}
        className="field !w-44 !py-0.5 font-mono text-[12.5px]"
        placeholder="tides.example"
        required
        maxLength={255}
        readOnly={!mayWrite}
        value={line.host}
        onChange={({ target }) => onChange({ host: target.value })}
      />
      <select
        aria-label={`How far line ${at + 1} of ${name} goes`}
        className="field !w-36 !py-0.5"
        disabled={!mayWrite}
        value={line.under ? 'under' : 'this'}
        onChange={({ target }) => onChange({ under: target.value === 'under' })}
      >
        <option value="this">this host</option>
        <option value="under">and all under it</option>
      </select>
      <input
        aria-label={`Scheme of line ${at + 1} of ${name}`}
        className="field !w-[86px] !py-0.5"
        placeholder="any scheme"
        readOnly={!mayWrite}
        value={line.scheme ?? ''}
        onChange={({ target }) => onChange({ scheme: target.value })}
      />
      <input
        aria-label={`Port of line ${at + 1} of ${name}`}
        className="field !w-[86px] !py-0.5"
        type="number"
        min={1}
        max={65535}
        placeholder="any port"
        readOnly={!mayWrite}
        value={line.port ?? ''}
        onChange={({ target }) => onChange({ port: Number(target.value) })}
      />
      <input
        aria-label={`Path of line ${at + 1} of ${name}`}
        className="field !w-36 !py-0.5"
        placeholder="any path"
        readOnly={!mayWrite}
        value={line.path ?? ''}
        onChange={({ target }) => onChange({ path: target.value })}
      />
      {mayWrite && (
        <>
          <Button look="quiet" aria-label={`Line ${at + 1} of ${name} up`} onClick={() => onMove(-1)}>
            ↑
          </Button>
          <Button look="quiet" aria-label={`Line ${at + 1} of ${name} down`} onClick={() => onMove(1)}>
            ↓
          </Button>
          <Button look="quiet" aria-label={`Remove line ${at + 1} of ${name}`} onClick={onRemove}>
            ×
          </Button>
        </>
      )}
    </li>
  );
}
