import type { PackageView } from '@jumble/contracts';
import { NEW_DELIVERY, type DeliveryRule } from '@jumble/core';
import type { TestServer } from './startServer.ts';
import { waitUntil } from './waitUntil.ts';

/** Keeps a delivery rule with a job. @returns its id. */
export async function keepRule({ ask }: TestServer, jobId: string, over: Partial<DeliveryRule>): Promise<string> {
  const { revision } = (await ask.get(`/api/jobs/${jobId}/cast`).expect(200)).body as { revision: number };
  const value = { ...NEW_DELIVERY, name: 'Test', order: 0, ...over };
  const body = { baseRevision: revision, label: 'Delivery', edits: [{ key: 'delivery/test', value }] };
  await ask.post(`/api/jobs/${jobId}/cast/edits`).send(body).expect(201);
  return 'test';
}

/** Hands pages off by a rule, and waits for the end of it. */
export async function handOff(
  server: TestServer,
  jobId: string,
  pageIds: readonly string[],
  over: Partial<DeliveryRule> = {},
): Promise<PackageView> {
  const deliveryId = await keepRule(server, jobId, over);
  const answer = await server.ask.post(`/api/jobs/${jobId}/packages`).send({ pageIds, deliveryId }).expect(201);
  return packed(server, (answer.body as PackageView).id);
}

/** A package once it is packed, or stopped. */
export async function packed({ ask }: TestServer, id: string): Promise<PackageView> {
  let view: PackageView | undefined;
  await waitUntil(async () => {
    view = (await ask.get(`/api/packages/${id}`).expect(200)).body as PackageView;
    return view.state !== 'packing';
  });
  return view!;
}
