import { acceptStep, type Running } from "./running";

export interface ClientReport {
  readonly clients: number;
  readonly pages: number;
  readonly medianMs: number;
  readonly p95Ms: number;
  readonly failed: number;
  /** Steps that were confirmed / that a conflict was told for / that are in the ledger. */
  readonly confirmed: number;
  readonly conflicts: number;
  readonly inLedger: number;
}

/**
 * Clients that open pages of several characters with pauses like a person's, while some of them change one character at
 * once.
 */
export async function manyClients(
  server: Running,
  ids: readonly string[],
  shared: string,
  clients: number,
  visits: number,
): Promise<ClientReport> {
  const times: number[] = [];
  let [failed, confirmed, conflicts] = [0, 0, 0];
  const before = (await server.ask<{ steps: unknown[] }>(`/api/characters/${shared}/state`))!.body.steps.length;
  const stations = ["intake", "skeleton", "shapes", "correctives", "trials", "handoff"];
  await Promise.all(
    Array.from({ length: clients }, async (_, c) => {
      await new Promise((r) => setTimeout(r, 40 * c));
      for (let v = 0; v < visits; v++) {
        const since = performance.now();
        try {
          const page = await fetch(
            `${server.base}/c/${ids[(c + v) % ids.length]}/${stations[(c + v) % stations.length]}`,
          );
          await page.text();
          if (!page.ok) failed++;
        } catch {
          failed++;
        }
        times.push(performance.now() - since);
        if (c % 5 === 0) {
          const state = await server.ask<{ revision: number }>(`/api/characters/${shared}/state`);
          const answer =
            state &&
            (await server.send(shared, acceptStep(1000 * c + v), state.body.revision, `client ${c} visit ${v}`));
          if (answer?.status === 200) confirmed++;
          else if (answer?.status === 409) conflicts++;
          else failed++;
        }
        await new Promise((r) => setTimeout(r, 1500 + ((37 * c + 211 * v) % 1500)));
      }
    }),
  );
  times.sort((a, b) => a - b);
  const inLedger =
    (await server.ask<{ steps: unknown[] }>(`/api/characters/${shared}/state`))!.body.steps.length - before;
  return {
    clients,
    pages: times.length,
    medianMs: times[times.length >> 1]!,
    p95Ms: times[Math.floor(0.95 * times.length)]!,
    failed,
    confirmed,
    conflicts,
    inLedger,
  };
}
