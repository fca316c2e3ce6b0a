import type { BuilderRegister } from '@lantern/contracts/crossings';
import type { FlowStep } from '@lantern/core/automations';

interface Props {
  /** The step that is chosen; null for none. */
  readonly step: FlowStep | null;
  readonly steps: readonly FlowStep[];
  readonly register: BuilderRegister;
  readonly onChange: (steps: readonly FlowStep[]) => void;
  readonly onChoose: (id: string) => void;
}

const field = 'mt-0.5 block w-full border border-rule-strong bg-white px-1.5 py-1';

/** The chosen step, or a new one to add. */
export function StepForm({ step, steps, register, onChange, onChoose }: Props) {
  const add = (serviceId: string) => {
    const chosen = register.services.find(({ id }) => id === serviceId);
    const first = chosen?.operations[0];
    if (!chosen || !first) return;
    const count =
      steps.reduce((most, { id }) => Math.max(most, Number(/^step-(\d+)$/u.exec(id)?.[1] ?? 0)), 0) + 1;
    const before = step ?? steps.at(-1);
    const fresh = {
      id: `step-${count}`,
      name: `${chosen.name} ${count}`,
      service: chosen.id,
      operation: first.id,
    };
    onChange([...steps, { ...fresh, after: before ? [before.id] : [] }]);
    onChoose(fresh.id);
  };
  return (
    <aside aria-label="Step" className="overflow-auto border-l border-rule p-3">
      <label className="block text-[12.5px]">
        Add a step {step ? `after ${step.name || step.id}` : ''}
        <select className={field} value="" onChange={({ target }) => add(target.value)}>
          <option value="">Choose a service</option>
          {register.services.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
      {step && <ChosenStep {...{ step, steps, register, onChange }} />}
    </aside>
  );
}

function ChosenStep({
  step,
  steps,
  register,
  onChange,
}: Omit<Props, 'step' | 'onChoose'> & { readonly step: FlowStep }) {
  const service = register.services.find(({ id }) => id === step.service);
  const operation = service?.operations.find(({ id }) => id === step.operation);
  const set = (change: Partial<FlowStep>) =>
    onChange(steps.map((each) => (each.id === step.id ? { ...each, ...change } : each)));
  return (
    <fieldset className="mt-4 flex flex-col gap-2 border-t border-rule pt-3">
      <legend className="sr-only">{step.name || step.id}</legend>
      <label className="block text-[12.5px]">
        Name of the step
        <input
          className={field}
          maxLength={120}
          value={step.name}
          onChange={({ target }) => set({ name: target.value })}
        />
      </label>
      <label className="block text-[12.5px]">
        Service
        <select
          className={field}
          value={step.service}
          onChange={({ target }) =>
            set({
              service: target.value,
              operation: register.services.find(({ id }) => id === target.value)?.operations[0]?.id ?? '',
            })
          }
        >
          {!service && <option value={step.service}>{step.service} (gone)</option>}
          {register.services.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <label className="block text-[12.5px]">
        What it does
        <select
          className={field}
          value={step.operation}
          onChange={({ target }) => set({ operation: target.value })}
        >
          {(service?.operations ?? []).map(({ id, name }) => (
            <option key={id} value={id}>
              {name || id}
            </option>
          ))}
        </select>
      </label>
      {operation?.takesAddress && (
        <label className="block text-[12.5px]">
          Address it calls
          <input
            className={field}
            maxLength={8192}
            placeholder="https://"
            value={step.address ?? ''}
            onChange={({ target }) => set({ address: target.value })}
          />
        </label>
      )}
      <label className="block text-[12.5px]">
        Target
        <input
          className={field}
          maxLength={500}
          placeholder="Room, report, mail address or sheet"
          value={step.target ?? ''}
          onChange={({ target }) => set({ target: target.value })}
        />
      </label>
      <fieldset>
        <legend className="text-[12.5px]">Gets data from</legend>
        {steps
          .filter(({ id }) => id !== step.id)
          .map((other) => (
            <label key={other.id} className="flex min-h-[26px] items-center gap-1.5">
              <input
                type="checkbox"
                checked={step.after.includes(other.id)}
                onChange={({ target }) =>
                  set({
                    after: target.checked
                      ? [...step.after, other.id]
                      : step.after.filter((id) => id !== other.id),
                  })
                }
              />
              {other.name || other.id}
            </label>
          ))}
      </fieldset>
      <button
        type="button"
        className="min-h-6 self-start underline"
        onClick={() =>
          onChange(
            steps
              .filter(({ id }) => id !== step.id)
              .map((each) => ({ ...each, after: each.after.filter((id) => id !== step.id) })),
          )
        }
      >
        Remove this step
      </button>
    </fieldset>
  );
}
