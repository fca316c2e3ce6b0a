import type { JudgedBy, JudgedWhileBuilding, MayItRun, MayItRunRequest } from '@lantern/contracts/crossings';
import { alternatives, type AnyAutomation, breachSentence, insteadSentence } from '@lantern/core/automations';
import { type AutomationReading, readAutomation, readAutomationFile } from '@lantern/set-files';
import { Injectable } from '@nestjs/common';
import { AppError } from '../platform/errors/app-error.js';
import { Automations } from './automations.service.js';
import { BreachesExport } from './breaches-export.service.js';

/** Says in sentences whether an automation may run, and reads the documents that are asked about. */
@Injectable()
export class AutomationTelling {
  constructor(
    private readonly automations: Automations,
    private readonly exports: BreachesExport,
  ) {}

  /** What would be said about it as it stands, step by step, with what would be allowed instead. */
  async told(automation: AnyAutomation, by: JudgedBy): Promise<JudgedWhileBuilding> {
    const verdict = await this.automations.judge(automation, by);
    const { names, sets } = await this.exports.namesFor(by);
    const { crossings } = await this.automations.basis(by);
    const binding = crossings.sets.filter(({ id }) =>
      verdict.trace.some(({ set, binds }) => set === id && binds === 'yes'),
    );
    const register = {
      services: new Map(crossings.services.map((service) => [service.id, service])),
      labels: new Map(),
    };
    return {
      runs: verdict.runs,
      ungoverned: verdict.ungoverned.map(({ service, why }) => `${names.service(service)}: ${why}`),
      told: verdict.breaches.map((breach) => ({
        steps: breach.steps,
        sentence: breachSentence(breach, names),
        set: sets(breach.set),
        instead: insteadSentence(
          alternatives(breach, binding, register),
          names,
          'service' in breach.reason ? breach.reason.service : '',
        ),
      })),
    };
  }

  /** May it run by what is published, and by the drafts? */
  async mayItRun({ id, text }: MayItRunRequest): Promise<MayItRun> {
    if ((id === undefined) === (text === undefined))
      throw new AppError('invalid-request', 'Name an automation by id, or give a document in text.');
    const { crossings } = await this.automations.basis('drafts');
    const automation =
      id === undefined
        ? readOrRefused(readAutomationFile({ path: 'text', text: text ?? '' }, crossings.services))
        : (await this.automations.row(id)).definition;
    const [published, drafts] = [
      await this.told(automation, 'published'),
      await this.told(automation, 'drafts'),
    ];
    return { name: automation.name, kind: automation.kind, published, drafts };
  }

  /** The automation that another system hands in. Throws `invalid-request` with the place of the fault. */
  async handedIn(given: { readonly automation?: object; readonly arazzo?: object }): Promise<AnyAutomation> {
    const { automation, arazzo } = given;
    const document = automation ?? arazzo;
    if (document === undefined || (automation && arazzo))
      throw new AppError('invalid-request', 'Give either automation or arazzo.');
    const { crossings } = await this.automations.basis('published');
    return readOrRefused(
      readAutomation(document, crossings.services, {
        path: automation ? 'automation' : 'arazzo',
        lineOf: () => null,
      }),
    );
  }
}

function readOrRefused(reading: AutomationReading): AnyAutomation {
  if (reading.status === 'read') return reading.automation;
  const [fault] = reading.faults;
  const line = fault?.line ? `line ${fault.line}: ` : '';
  throw new AppError(
    'invalid-request',
    `${fault?.path ?? ''}: ${line}${fault?.message ?? 'cannot be read'}.`,
  );
}
