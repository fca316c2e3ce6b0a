import { Injectable } from '@nestjs/common';
import { PeopleService, type Player } from '../directory/people.service.js';
import { LabelsAtWork } from '../labels/labels-at-work.service.js';
import { Ledger } from '../stand-ins/ledger/ledger.service.js';

/** Who works with the ledger, and what they take. */
const LIFE = [
  { person: 'orla.fenwick@merrowstrait.example', exports: [['freight', 400]], connects: 'tide-times' },
  {
    person: 'bea.lindqvist@merrowstrait.example',
    exports: [
      ['claims', 200],
      ['customers', 900],
    ],
    connects: null,
  },
  { person: 'goran.lorne@merrowstrait.example', exports: [['season', 25_000]], connects: 'growth-robot' },
] as const;
/** The label of the reports that name passengers. */
const LABELLED: readonly (readonly [report: string, label: string])[] = [
  ['season', 'Passenger care'],
  ['customers', 'Passenger care'],
  ['income-by-route', 'Ship’s company'],
];

/** The demo's days in the ledger: a few exports, one that is held, applications that are connected or wait. */
@Injectable()
export class DemoLedger {
  constructor(
    private readonly people: PeopleService,
    private readonly ledger: Ledger,
    private readonly labels: LabelsAtWork,
  ) {}

  async load(): Promise<void> {
    const known = new Map((await this.people.all()).map((person) => [person.address, person]));
    for (const { person: address, exports, connects } of LIFE) {
      const person = known.get(address);
      if (!person) throw new Error('The demo uses the ledger as somebody who is not in its directory');
      const player: Player = { person, name: person.name, address, outside: false };
      await this.ledger.signIn(player, { country: 'NO', proof: 'second-factor', atWork: true });
      if (address === LIFE[0].person) await this.labelReports(player);
      for (const [report, rows] of exports) await this.ledger.export(player, { report, format: 'csv', rows });
      if (connects) await this.ledger.connect(player, connects);
    }
  }

  private async labelReports(player: Player): Promise<void> {
    for (const [report, wanted] of LABELLED) {
      const label = this.labels.set.labels.find(({ name }) => name === wanted);
      if (!label) throw new Error('The demo names a label that it does not have');
      await this.ledger.labelReport(player, report, String(label.id));
    }
  }
}
