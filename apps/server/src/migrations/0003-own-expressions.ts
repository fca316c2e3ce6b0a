import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Own expressions beside own word lists, and specimens that patterns are held to. */
export class OwnExpressions1764000000003 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE own_pattern ADD COLUMN expression longtext NULL AFTER words');
    await runner.query(`CREATE TABLE specimen (id uuid NOT NULL PRIMARY KEY, name varchar(120) NOT NULL,
      sealed longblob NOT NULL, savedAt datetime(3) NOT NULL, savedBy varchar(120) NOT NULL)`);
    await runner.query(
      "ALTER TABLE revision ADD COLUMN brokenSpecimens longtext NOT NULL DEFAULT '[]' AFTER document",
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE revision DROP COLUMN brokenSpecimens');
    await runner.query('DROP TABLE specimen');
    await runner.query('ALTER TABLE own_pattern DROP COLUMN expression');
  }
}
