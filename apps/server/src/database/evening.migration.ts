import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Songs with parts, transitions and all that a scene is beside its functions; sets with their evening. What was saved
 * before has none of it.
 */
export class Evening1764150000000 implements MigrationInterface {
  readonly name = 'Evening1764150000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const [table, column, type, first] of COLUMNS) {
      const given = first === null ? 'NULL' : `NOT NULL DEFAULT '${first}'`;
      await runner.query(`ALTER TABLE \`${table}\` ADD \`${column}\` ${type} ${given}`);
      if (first !== null) await runner.query(`ALTER TABLE \`${table}\` ALTER \`${column}\` DROP DEFAULT`);
    }
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const [table, column] of COLUMNS) await runner.query(`ALTER TABLE \`${table}\` DROP \`${column}\``);
  }
}

/** Table, column, type, and what is in it for what was saved before. */
const COLUMNS: readonly (readonly [string, string, string, string | null])[] = [
  ['song', 'key', 'varchar(20)', ''],
  ['song', 'remark', 'varchar(400)', ''],
  ['song', 'tags', 'json', '[]'],
  ['song', 'parts', 'json', '[]'],
  ['scene', 'colour', 'varchar(16)', null],
  ['scene', 'remark', 'varchar(400)', ''],
  ['scene', 'transition', 'json', null],
  ['scene', 'tempoBpm', 'double', null],
  ['scene', 'banks', 'json', '[]'],
  ['scene', 'routes', 'json', '[]'],
  ['scene_value', 'way', 'json', null],
  ['setlist', 'date', 'varchar(10)', ''],
  ['setlist', 'place', 'varchar(80)', ''],
  ['setlist', 'startMin', 'int', null],
  ['setlist', 'slotS', 'double', null],
  ['setlist', 'remark', 'varchar(400)', ''],
  ['set_entry', 'isEncore', 'tinyint', '0'],
  ['set_entry', 'remark', 'varchar(400)', ''],
  ['set_entry', 'leftOutSceneIds', 'json', null],
];
