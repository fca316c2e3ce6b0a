import { setTimeout as wait } from 'node:timers/promises';
import { Controller, Get, Module } from '@nestjs/common';
import { NestFactory } from '@nestjs/core';
import { undeclaredRoutes } from '../src/platform/auth/route-audit.js';
import { DemoService } from '../src/demo/demo.service.js';
import { AccountEntity } from '../src/accounts/account.entity.js';
import { ORGANISATION } from '@lantern/demo';
import { OrganisationEntity } from '../src/directory/person.entity.js';
import { InstallationEntity } from '../src/platform/installation.entity.js';
import { type Running, start } from './harness.js';

let running: Running;
beforeAll(async () => {
  running = await start();
});
afterAll(() => running.stop());

@Controller('forgotten')
class ForgottenController {
  @Get()
  everything(): string {
    return 'open to all';
  }
}

@Module({ controllers: [ForgottenController] })
class ForgottenModule {}

describe('the schema', () => {
  it('comes whole from the migrations: entities want nothing else', async () => {
    const { upQueries } = await running.database.driver.createSchemaBuilder().log();
    expect(upQueries.map((query) => query.query)).toEqual([]);
  });

  it('can be taken back and put up again', async () => {
    for (const _migration of running.database.migrations) await running.database.undoLastMigration();
    const left = (await running.database.query('SHOW TABLES')) as Record<string, string>[];
    expect(left.map((row) => Object.values(row)[0])).toEqual(['migrations']);
    await running.database.runMigrations();
    expect(await running.database.getRepository(AccountEntity).count()).toBe(0);
  });
});

describe('two that wait for each other', () => {
  const ask = (statement: string): Promise<Record<string, number>[]> => running.database.query(statement);

  it('both come through where the database gives up a statement of its own', async () => {
    await ask('CREATE TABLE meeting (id INT PRIMARY KEY, amount INT NOT NULL)');
    await ask(`INSERT INTO meeting SELECT seq, 0 FROM seq_1_to_50`);
    const runner = running.database.createQueryRunner();
    await runner.startTransaction();
    await runner.query('UPDATE meeting SET amount = 1 WHERE id > 10');
    // Holds the first ten and waits for the eleventh; the transaction then asks for the first.
    const alone = ask('UPDATE meeting SET amount = amount + 5 ORDER BY id');
    await wait(200);
    await runner.query('UPDATE meeting SET amount = 1 WHERE id = 1');
    await runner.commitTransaction();
    await runner.release();
    await alone;
    expect(await ask('SELECT DISTINCT amount FROM meeting ORDER BY amount')).toEqual([
      { amount: 5 },
      { amount: 6 },
    ]);
    await ask('DROP TABLE meeting');
  });
});

describe('routes', () => {
  it('all declare a permission', () => expect(undeclaredRoutes(running.application)).toEqual([]));

  it('are named when they do not', async () => {
    const forgotten = await NestFactory.createApplicationContext(ForgottenModule, { logger: false });
    expect(undeclaredRoutes(forgotten)).toEqual(['ForgottenController.everything']);
  });
});

describe('a database that holds anything', () => {
  it('counts as in use without a note and without accounts, and is not touched at a start', async () => {
    const { manager } = running.database;
    await manager.clear(InstallationEntity);
    await manager.insert(OrganisationEntity, { id: 1, ...ORGANISATION });
    const said: string[] = [];
    for (const demo of ['merrow', 'none'] as const)
      expect(await running.application.get(DemoService).prepare(demo, (text) => said.push(text))).toEqual([]);
    expect(said).toEqual([]);
    expect(await manager.count(OrganisationEntity)).toBe(1);
    expect(await manager.count(AccountEntity)).toBe(0);
    await manager.delete(OrganisationEntity, { id: 1 });
  });
});

describe('an installation without the demo', () => {
  it('gets one account with a password of its own, told once', async () => {
    await running.database.getRepository(AccountEntity).createQueryBuilder().delete().execute();
    const [account] = await running.application.get(DemoService).prepare('none', () => undefined);
    expect(account?.password).toMatch(/^[\w-]{12}$/);
    expect(await running.application.get(DemoService).prepare('none', () => undefined)).toEqual([]);
  });
});
