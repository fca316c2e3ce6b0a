import type { FlowService, OperationException } from '@lantern/core/automations';
import { Button } from '../../ui/button';
import type { PartProps } from './sets-page';

/** What holds for services and operations that appear later, and single operations whatever else is said. */
export function NewThings({ draft, view, mayWrite, onChange }: PartProps) {
  const { laterServices: later, circles, operations } = draft;
  const services = view.services.map(({ service }) => service);
  const setAt = (at: number, change: Partial<(typeof operations)[number]>) =>
    onChange({ operations: operations.map((each, index) => (index === at ? { ...each, ...change } : each)) });
  return (
    <section aria-label="What about new and single operations?">
      <h2 className="mb-1 !text-[15px] !text-ink">What about new services and single operations?</h2>
      <div className="flex flex-wrap gap-x-8 gap-y-2">
        <label className="flex items-center gap-2">
          A service that appears later
          <select
            className="field !w-auto !py-0.5"
            disabled={!mayWrite}
            value={later.kind === 'joins' ? later.circle : ''}
            onChange={({ target }) =>
              onChange({
                laterServices:
                  target.value === '' ? { kind: 'refused' } : { kind: 'joins', circle: target.value },
              })
            }
          >
            <option value="">is refused</option>
            {circles.map(({ id, name }) => (
              <option key={id} value={id}>
                joins {name}
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-2">
          An operation that appears later
          <select
            className="field !w-auto !py-0.5"
            disabled={!mayWrite}
            value={draft.laterOperations}
            onChange={({ target }) => onChange({ laterOperations: target.value as 'allowed' | 'refused' })}
          >
            <option value="refused">is refused</option>
            <option value="allowed">is allowed</option>
          </select>
        </label>
      </div>
      <ul className="mt-2">
        {operations.map((exception, at) => (
          <Exception
            key={at}
            exception={exception}
            at={at}
            services={services}
            mayWrite={mayWrite}
            onChange={(change) => setAt(at, change)}
            onRemove={() => onChange({ operations: operations.filter((_each, index) => index !== at) })}
          />
        ))}
      </ul>
      {mayWrite && services[0] && (
        <Button
          className="mt-1"
          onClick={() =>
            onChange({
              operations: [
                ...operations,
                {
                  service: services[0]?.id ?? '',
                  operation: services[0]?.operations[0]?.id ?? '',
                  allowed: false,
                },
              ],
            })
          }
        >
          Name a single operation
        </Button>
      )}
    </section>
  );
}

interface ExceptionProps {
  readonly exception: OperationException;
  readonly at: number;
  readonly services: readonly FlowService[];
  readonly mayWrite: boolean;
  readonly onChange: (change: Partial<OperationException>) => void;
  readonly onRemove: () => void;
}

function Exception({ exception, at, services, mayWrite, onChange, onRemove }: ExceptionProps) {
  return (
    <li className="flex items-center gap-2 py-0.5">
      <select
        aria-label={`Service of exception ${at + 1}`}
        className="field !w-44 !py-0.5"
        disabled={!mayWrite}
        value={exception.service}
        onChange={({ target }) =>
          onChange({
            service: target.value,
            operation: services.find(({ id }) => id === target.value)?.operations[0]?.id ?? '',
          })
        }
      >
        {services.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
      <select
        aria-label={`Operation of exception ${at + 1}`}
        className="field !w-52 !py-0.5"
        disabled={!mayWrite}
        value={exception.operation}
        onChange={({ target }) => onChange({ operation: target.value })}
      >
        {(services.find(({ id }) => id === exception.service)?.operations ?? []).map(({ id, name }) => (
          <option key={id} value={id}>
            {name || id}
          </option>
        ))}
      </select>
      <select
        aria-label={`What holds for exception ${at + 1}`}
        className="field !w-auto !py-0.5"
        disabled={!mayWrite}
        value={exception.allowed ? 'allowed' : 'off'}
        onChange={({ target }) => onChange({ allowed: target.value === 'allowed' })}
      >
        <option value="off">is switched off</option>
        <option value="allowed">is allowed</option>
      </select>
      {mayWrite && (
        <Button look="quiet" aria-label={`Remove exception ${at + 1}`} onClick={onRemove}>
          ×
        </Button>
      )}
    </li>
  );
}
