import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Questions that end with their page; labels of files on the drive, and of what is handed in. */
export class PagesAndLabels1764000000011 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE waiting_movement DROP COLUMN openUntil');
    await runner.query(
      'ALTER TABLE drive_file DROP COLUMN label, DROP COLUMN lowering, DROP COLUMN suggestion',
    );
    await runner.query('ALTER TABLE attempt DROP COLUMN label');
  }
}

const STATEMENTS = [
  'ALTER TABLE waiting_movement ADD COLUMN openUntil datetime(3) NULL',
  'ALTER TABLE drive_file ADD COLUMN label json NULL, ADD COLUMN lowering json NULL, ADD COLUMN suggestion json NULL',
  // Every file is looked at anew, for the label it carries.
  'UPDATE drive_file SET judgedBy = 0',
  'ALTER TABLE attempt ADD COLUMN label json NULL',
];
