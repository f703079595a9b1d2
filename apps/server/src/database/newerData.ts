import { DataSource, type DataSourceOptions } from 'typeorm';

/** What is kept was last used by a newer version: this one would misread it, and is not started. */
export class NewerData extends Error {
  override readonly name = 'NewerData';
}

/**
 * Looks which steps of its tables a database has gone through.
 * @throws NewerData where one of them is not known here; nothing is changed. A database that is not there is left to whoever
 * connects to it in earnest.
 */
export async function refuseNewerData(options: DataSourceOptions): Promise<void> {
  const source = new DataSource({ ...options, migrationsRun: false, entities: [] });
  let done: readonly { readonly name: string }[];
  try {
    await source.initialize();
    const runner = source.createQueryRunner();
    done = (await runner.hasTable('migrations')) ? await runner.query('SELECT `name` FROM `migrations`') : [];
    await runner.release();
  } catch {
    return;
  } finally {
    if (source.isInitialized) await source.destroy();
  }
  const known = new Set(source.migrations.map((m) => m.name ?? m.constructor.name));
  const unknown = done.filter(({ name }) => !known.has(name)).length;
  if (unknown > 0)
    throw new NewerData(
      `What is kept here was last used by a newer version of Idle Step (${unknown} ${unknown === 1 ? 'step' : 'steps'} further). Start that one, or another data folder.`,
    );
}
