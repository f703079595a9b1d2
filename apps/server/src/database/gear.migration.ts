import type { MigrationInterface, QueryRunner } from 'typeorm';

const ADD = [
  `ALTER TABLE \`device\`
    ADD \`place\` varchar(400) NOT NULL DEFAULT '' AFTER \`description\`,
    ADD \`listens\` json NOT NULL DEFAULT '{"kind":"one"}' AFTER \`channel\`,
    ADD \`extraChannels\` json NOT NULL DEFAULT '[]' AFTER \`listens\`,
    ADD \`bankSelect\` varchar(8) NOT NULL DEFAULT 'both' AFTER \`extraChannels\`,
    ADD \`setting\` json NULL AFTER \`bankSelect\`,
    ADD \`startUp\` json NOT NULL DEFAULT '[]' AFTER \`setting\``,
  `ALTER TABLE \`port\`
    ADD \`isUsbHost\` tinyint(1) NOT NULL DEFAULT 0,
    ADD \`plays\` tinyint(1) NOT NULL DEFAULT 1,
    ADD \`learns\` tinyint(1) NOT NULL DEFAULT 1,
    ADD \`latencyMs\` double NOT NULL DEFAULT 0`,
  `ALTER TABLE \`chart_function\`
    ADD \`group\` varchar(80) NOT NULL DEFAULT '' AFTER \`name\`,
    ADD \`extraChannel\` varchar(80) NULL AFTER \`channel\`,
    ADD \`under\` varchar(80) NULL AFTER \`extraChannel\`,
    ADD \`powerOn\` int NULL AFTER \`arms\`,
    ADD \`reserved\` tinyint(1) NOT NULL DEFAULT 0,
    ADD \`remark\` varchar(400) NOT NULL DEFAULT ''`,
];

/** The columns without their defaults: those were for the rows that were there before. */
const WITHOUT_DEFAULTS: readonly [table: string, columns: readonly string[]][] = [
  ['device', ['place', 'listens', 'extraChannels', 'bankSelect', 'startUp']],
  ['port', ['isUsbHost', 'plays', 'learns', 'latencyMs']],
  ['chart_function', ['group', 'reserved', 'remark']],
];

const ADDED: readonly [table: string, columns: readonly string[]][] = [
  ['device', ['place', 'listens', 'extraChannels', 'bankSelect', 'setting', 'startUp']],
  ['port', ['isUsbHost', 'plays', 'learns', 'latencyMs']],
  ['chart_function', ['group', 'extraChannel', 'under', 'powerOn', 'reserved', 'remark']],
];

/** What a device listens to beyond one channel, its setting and start-up list; ports that are enabled; full charts. */
export class Gear1763980000000 implements MigrationInterface {
  readonly name = 'Gear1763980000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of ADD) await runner.query(statement);
    for (const [table, columns] of WITHOUT_DEFAULTS)
      await runner.query(
        `ALTER TABLE \`${table}\` ${columns.map((c) => `ALTER \`${c}\` DROP DEFAULT`).join(', ')}`,
      );
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const [table, columns] of ADDED)
      await runner.query(`ALTER TABLE \`${table}\` ${columns.map((c) => `DROP \`${c}\``).join(', ')}`);
  }
}
