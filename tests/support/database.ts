import { createConnection } from 'mysql2/promise';
import { randomBytes } from 'node:crypto';

/** Makes an empty database on the throwaway server. @returns its URL. */
export async function emptyDatabase(serverUrl: string): Promise<string> {
  const name = `idlestep_${randomBytes(6).toString('hex')}`;
  const connection = await createConnection(serverUrl);
  await connection.query(`CREATE DATABASE ${name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`);
  await connection.end();
  return serverUrl.replace(/\/[^/]*$/, `/${name}`);
}
