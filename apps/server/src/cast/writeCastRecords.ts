import type { CastPart, Records } from '@jumble/core';
import { In, type EntityManager, type EntityTarget, type ObjectLiteral } from 'typeorm';
import {
  CastGroupEntity,
  CastPartEntity,
  DeliveryRuleEntity,
  JobEntity,
  PartAliasEntity,
  PartColourEntity,
  SceneEntity,
} from '../database/entities.ts';

/** A statement of SQLite binds 32,766 values at most; rows have up to eleven. */
const ROWS_A_STATEMENT = 500;

/** A group, a scene or a part, as `checkCastEdit` let it through. */
type CastRow = Omit<CastPart, 'id'> & { readonly kind?: string };

/**
 * Brings the tables of a cast sheet to what `records` holds under `keys`. What stands in several records (a part
 * and its scratch colour) is written as a whole, so that the order of the keys does not matter.
 */
export async function writeCastRecords(
  manager: EntityManager,
  jobId: string,
  records: Records,
  keys: readonly string[],
): Promise<void> {
  const ids = {
    group: new Set<string>(),
    scene: new Set<string>(),
    part: new Set<string>(),
    alias: new Set<string>(),
    delivery: new Set<string>(),
  };
  const colours = new Set<string>();
  for (const key of keys) {
    const [table, id] = key.split('/') as [string, string];
    if (table === 'palette')
      await manager.update(JobEntity, { id: jobId }, { palette: records.get(key) === 'scratch' ? 'scratch' : 'scene' });
    else if (table === 'trap' || table === 'holds' || table === 'checks')
      await manager.update(JobEntity, { id: jobId }, { [table]: jsonOf(records.get(key)) });
    else if (table === 'colour') colours.add(key);
    else ids[table === 'scratch' ? 'part' : (table as keyof typeof ids)].add(id);
  }
  const table = async (
    entity: EntityTarget<ObjectLiteral>,
    name: keyof typeof ids,
    columns: (row: CastRow, id: string) => object,
  ) => {
    const there = [...ids[name]].filter((id) => records.has(`${name}/${id}`));
    const gone = [...ids[name]].filter((id) => !records.has(`${name}/${id}`));
    const rowOf = (id: string): CastRow => records.get(`${name}/${id}`) as unknown as CastRow;
    for (const some of chunks(there)) {
      await manager.upsert(
        entity,
        some.map((id) => ({ jobId, id, ...columns(rowOf(id), id) })),
        ['jobId', 'id'],
      );
    }
    for (const some of chunks(gone)) await manager.delete(entity, { jobId, id: In(some) });
  };
  await table(CastGroupEntity, 'group', ({ name, order, stack, kind }) => ({
    name,
    order,
    stack: stack ?? null,
    kind: kind ?? null,
  }));
  await table(SceneEntity, 'scene', ({ name, order }) => ({ name, order }));
  await table(CastPartEntity, 'part', ({ groupId, name, order, slot, empty, notes, stack, on, trap }, id) => ({
    groupId,
    name,
    order,
    slot,
    empty: empty ? 1 : 0,
    scratch: records.get(`scratch/${id}`) ?? null,
    notes: notes ?? null,
    stack: stack ?? null,
    onPart: on ?? null,
    trap: jsonOf(trap),
  }));
  await table(PartAliasEntity, 'alias', (partId) => ({ partId }));
  await table(DeliveryRuleEntity, 'delivery', (rule) => ({ rule: JSON.stringify(rule) }));

  const given: { readonly sceneId: string; readonly partId: string; readonly colour: string }[] = [];
  const taken = new Map<string, string[]>();
  for (const key of colours) {
    const [, sceneId, partId] = key.split('/') as [string, string, string];
    const colour = records.get(key) as string | undefined;
    if (colour !== undefined) given.push({ sceneId, partId, colour });
    else taken.set(sceneId, [...(taken.get(sceneId) ?? []), partId]);
  }
  // There may be tens of thousands: as plain rows, the mapper takes five times as long.
  for (const some of chunks(given)) {
    await manager.query(
      `INSERT INTO part_colour (job_id, scene_id, part_id, colour) VALUES ${some.map(() => '(?, ?, ?, ?)').join(', ')}
        ON CONFLICT (job_id, scene_id, part_id) DO UPDATE SET colour = excluded.colour`,
      some.flatMap(({ sceneId, partId, colour }) => [jobId, sceneId, partId, colour]),
    );
  }
  for (const [sceneId, parts] of taken) {
    for (const some of chunks(parts)) await manager.delete(PartColourEntity, { jobId, sceneId, partId: In(some) });
  }
}

const jsonOf = (value: unknown): string | null => (value === undefined ? null : JSON.stringify(value));

function chunks<T>(all: readonly T[]): T[][] {
  const parts: T[][] = [];
  for (let k = 0; k < all.length; k += ROWS_A_STATEMENT) parts.push(all.slice(k, k + ROWS_A_STATEMENT));
  return parts;
}
