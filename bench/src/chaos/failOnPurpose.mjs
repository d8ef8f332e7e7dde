// Loaded into the server before its own code: while it is told to, the disk and the database fail by chance.
import { createRequire, syncBuiltinESMExports } from 'node:module';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';

const require = createRequire(
  pathToFileURL(join(import.meta.dirname, '..', '..', '..', 'apps', 'server', 'package.json')),
);
const fs = require('node:fs/promises');
const Database = require('better-sqlite3');

/** Share of calls that fail. */
let share = 0;
let failures = 0;
process.on('message', (message) => {
  share = message.share;
  process.send({ failures });
});
// The server ends when it has nothing else to do.
process.channel?.unref();

const fails = () => Math.random() < share && ++failures > 0;
const one = (list) => list[Math.floor(Math.random() * list.length)];
const diskError = (call) => {
  const code = one(['ENOSPC', 'EIO']);
  return Object.assign(new Error(`${code}: on purpose, ${call}`), { code });
};
const databaseError = () =>
  Object.assign(new Error('on purpose'), { code: one(['SQLITE_FULL', 'SQLITE_IOERR_WRITE', 'SQLITE_IOERR_FSYNC']) });

// Files: writing, renaming, and making sure that the disk has them.
for (const call of ['writeFile', 'rename', 'mkdir']) {
  const real = fs[call];
  fs[call] = async (...args) => {
    if (fails()) throw diskError(call);
    return real(...args);
  };
}
const handle = await fs.open(import.meta.filename);
const FileHandle = Object.getPrototypeOf(handle);
await handle.close();
for (const call of ['sync', 'writeFile']) {
  const real = FileHandle[call];
  FileHandle[call] = async function (...args) {
    if (fails()) throw diskError(call);
    return real.apply(this, args);
  };
}
syncBuiltinESMExports();

// The database: after such errors SQLite has sometimes ended the transaction by itself, and sometimes not.
const exec = Database.prototype.exec;
const fail = (database) => {
  if (database.inTransaction && Math.random() < 0.5) exec.call(database, 'ROLLBACK');
  throw databaseError();
};
Database.prototype.exec = function (text) {
  if (/^(BEGIN IMMEDIATE|COMMIT|ROLLBACK)/.test(text) && fails()) fail(this);
  return exec.call(this, text);
};
const Statement = Object.getPrototypeOf(new Database(':memory:').prepare('SELECT 1'));
const run = Statement.run;
Statement.run = function (...args) {
  if (this.database.inTransaction && fails()) fail(this.database);
  return run.apply(this, args);
};
