import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Places of the directory on the drive: whom their owners let in, and files that lie in them. */
export class DrivePlaces1764800000020 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query("ALTER TABLE place ADD COLUMN members json NOT NULL DEFAULT '[]'");
    await runner.query(
      `ALTER TABLE drive_file ADD COLUMN placeId uuid NULL, ADD COLUMN kind varchar(20) NOT NULL DEFAULT 'other',
         ADD KEY drive_place (placeId)`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE drive_file DROP KEY drive_place, DROP COLUMN placeId, DROP COLUMN kind');
    await runner.query('ALTER TABLE place DROP COLUMN members');
  }
}
