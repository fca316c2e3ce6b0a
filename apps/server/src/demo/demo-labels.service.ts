import { existsSync } from 'node:fs';
import { mkdir, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { AUTOMATIONS, CROSSINGS, placeFiles, PLACES, STARTER_LABELS } from '@lantern/demo';
import { type Label, printedMarks } from '@lantern/core/labels';
import { labelOnDisk } from '@lantern/files';
import { Injectable } from '@nestjs/common';
import { InjectEntityManager } from '@nestjs/typeorm';
import { EntityManager } from 'typeorm';
import { Automations } from '../crossings/automations.service.js';
import { CrossingDrafts } from '../crossings/crossing-drafts.service.js';
import { DocumentWindow } from '../stand-ins/documents/documents.service.js';
import { LabelPartEntity, type LabelPart } from '../labels/label.entity.js';
import { PlaceEntity } from '../directory/place.entity.js';
import { PlacesService } from '../labels/runs/places.service.js';
import { PeopleService } from '../directory/people.service.js';

const DAY_MS = 86_400_000;

/** Labels of the demo, its places with their files, and a few documents people wrote. */
@Injectable()
export class DemoLabels {
  constructor(
    @InjectEntityManager() private readonly manager: EntityManager,
    private readonly places: PlacesService,
    private readonly people: PeopleService,
    private readonly desk: DocumentWindow,
    private readonly crossings: CrossingDrafts,
    private readonly automations: Automations,
  ) {}

  async loadDrafts(author: string): Promise<void> {
    const stamp = { version: 1, updatedAt: new Date(), updatedBy: author };
    const kinds = [
      ['label', STARTER_LABELS.labels],
      ['offer', STARTER_LABELS.offers],
      ['automatic', STARTER_LABELS.automatic],
    ] as const;
    for (const [kind, things] of kinds)
      for (const [index, { id, ...definition }] of things.entries())
        await this.manager.save(
          this.manager.create(LabelPartEntity, {
            id,
            kind,
            position: index + 1,
            definition: definition as LabelPart,
            ...stamp,
          }),
        );
  }

  /** What may cross between services, and what people had built before anybody said so. */
  async loadCrossings(by: string): Promise<void> {
    await this.crossings.replace(CROSSINGS, { name: by });
    for (const automation of AUTOMATIONS)
      await this.automations.keep(automation, { isOn: true, by: automation.owner });
  }

  /** Files are made once: those that lie there already stay, also when the database is begun anew. */
  async loadPlaces(say: (text: string) => void): Promise<void> {
    await this.manager.insert(
      PlaceEntity,
      PLACES.map((place) => ({ ...place, sharedOutside: [...place.sharedOutside], members: [] })),
    );
    const folders = new Map(PLACES.map((place) => [place.name, this.places.folderOf(place)]));
    const made = join(dirname([...folders.values()][0] ?? '.'), '.made');
    if (existsSync(made)) return;
    say('Loading the demo: writing some thousand files into its places …');
    let count = 0;
    for await (const file of placeFiles()) {
      const path = join(folders.get(file.place) ?? '', file.path);
      await mkdir(dirname(path), { recursive: true });
      await writeFile(path, file.bytes);
      const label = STARTER_LABELS.labels.find(({ name }) => name === file.label);
      if (label)
        await labelByHand(
          path,
          label,
          PLACES.find(({ name }) => name === file.place)?.owner ?? '',
          (count += 1),
        );
    }
    await writeFile(made, '');
  }

  /** Documents that people wrote at the stand-in, one of them shared, one sealed. */
  async loadDocuments(): Promise<void> {
    const people = await this.people.all();
    const find = (part: string) => people.find(({ address }) => address.startsWith(part));
    const [orla, bea, tomas, mina] = ['orla.fenwick', 'bea.lindqvist', 'tomas.reave', 'mina.carrow'].map(
      find,
    );
    const [open, company, , sickBay, bridge] = STARTER_LABELS.labels.map(({ id }) => id);
    if (!orla || !bea || !tomas || !mina) return;
    const write = (
      person: { id: string },
      name: string,
      paragraphs: string[],
      label: string | undefined,
      sharedWith: string[],
    ) => this.desk.save(null, { person: person.id, name, paragraphs, label: label ?? null, sharedWith });
    await write(
      orla,
      'Winter fares.docx',
      ['Winter fares from November', 'Cars and one driver: 42.00 from Merrowhaven to Northquay.'],
      open,
      [],
    );
    await write(
      tomas,
      'Dry dock plan.docx',
      ['Dry dock in March', 'Nights at berth 4; the gate code changes every Monday.'],
      bridge,
      [orla.address, bea.address],
    );
    await write(
      mina,
      'Fitness for duty.docx',
      ['Fitness for duty, second half year', 'Three certificates run out in December.'],
      sickBay,
      [tomas.address],
    );
    await write(
      orla,
      'Minutes of the desk.docx',
      ['Minutes of Tuesday', 'The queue at the gate was shorter. Bea looks at the rota.'],
      company,
      [mina.address],
    );
  }
}

function labelByHand(path: string, label: Label, owner: string, index: number) {
  const at = Date.now() - (index % 300) * DAY_MS;
  return labelOnDisk(path, {
    label: {
      id: label.id,
      name: label.name,
      rank: label.rank,
      setBy: owner,
      setAt: new Date(at).toISOString(),
      how: 'by-hand',
    },
    marks: printedMarks(label, { owner, setter: owner, at, how: 'by-hand' }),
  });
}
