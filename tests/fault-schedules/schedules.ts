import { JobView, Limit, type AssignmentView } from '@apodix/core';
import { ApiClient } from '@apodix/demo';
import fc from 'fast-check';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import sharp from 'sharp';
import { buildAnnouncement, startApodix, type RunningApodix } from '../test-support/running-apodix.ts';
import { FaultProxy, type LineFault } from './fault-proxy.ts';

/** Something that a person or the world does, so long after Hand in was pressed. */
interface Moment {
  readonly atMs: number;
  readonly what: 'press' | 'cancel' | 'kill-server' | 'kill-site' | 'refuse';
}

export interface Schedule {
  readonly tabs: number;
  readonly faults: readonly LineFault[];
  readonly moments: readonly Moment[];
}

const share = fc.double({ min: 0, max: 1, noNaN: true });
const lineFault: fc.Arbitrary<LineFault> = fc.oneof(
  { weight: 3, arbitrary: fc.constant({ kind: 'pass' } as const) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('slow' as const), ms: fc.nat(700) }) },
  { weight: 2, arbitrary: fc.record({ kind: fc.constant('cut-request' as const), share }) },
  { weight: 2, arbitrary: fc.record({ kind: fc.constant('lose-answer' as const), share }) },
  {
    weight: 1,
    arbitrary: fc.record({
      kind: fc.constant('status' as const),
      status: fc.constantFrom(408, 425, 429, 500, 503),
    }),
  },
  { weight: 1, arbitrary: fc.constant({ kind: 'twice' } as const) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('again-later' as const), ms: fc.nat(1500) }) },
);

export const arbitrarySchedule: fc.Arbitrary<Schedule> = fc.record({
  tabs: fc.integer({ min: 1, max: 3 }),
  faults: fc.array(lineFault, { maxLength: 9 }),
  moments: fc
    .array(
      fc.record({
        atMs: fc.nat(1800),
        what: fc.constantFrom('press', 'cancel', 'kill-server', 'kill-site', 'refuse'),
      }),
      { maxLength: 3 },
    )
    .map((moments) => [...moments].sort((left, right) => left.atMs - right.atMs)),
});

interface SiteDelivery {
  readonly deliveryId: string;
  readonly state: string;
  readonly files: readonly { readonly sha256: string | null }[];
}

const LONGEST_SETTLING_MS = 90_000;
const WORK = 'work';

/** Apodix and its course site, with a faulty line between them and one proven file to hand in. */
export class FaultyPair {
  readonly #apodix: RunningApodix;
  readonly #client: ApiClient;
  readonly #proxy: FaultProxy;
  readonly #folder: string;
  #round = 0;

  private constructor(apodix: RunningApodix, client: ApiClient, proxy: FaultProxy, folder: string) {
    this.#apodix = apodix;
    this.#client = client;
    this.#proxy = proxy;
    this.#folder = folder;
  }

  /** The clock of the course site may be wrong by so much. */
  static async start(clockSkewMs: number): Promise<FaultyPair> {
    const folder = await mkdtemp(join(tmpdir(), 'apodix-schedules-'));
    const limits = [Limit.parse({ id: 'format', kind: 'format', wanted: ['jpeg'] })];
    const announcement = buildAnnouncement(WORK, 'photo', limits, { attemptsAllowed: null });
    let proxy: FaultProxy | null = null;
    const apodix = await startApodix(
      [announcement],
      {
        APODIX_DELIVERY_RETRY_MS: '300',
        APODIX_COURSE_SITE_CLOCK_MS: String(clockSkewMs),
        APODIX_REQUESTS_PER_MINUTE: '100000',
      },
      async (siteUrl) => {
        proxy = new FaultProxy(siteUrl);
        return proxy.open();
      },
    );
    if (!proxy) throw new TypeError('There is always a line.');
    const client = new ApiClient(apodix.url);
    await client.signIn('ann');
    const picture = join(folder, 'picture.jpg');
    const noise = { type: 'gaussian' as const, mean: 128, sigma: 40 };
    await sharp({ create: { width: 1200, height: 900, channels: 3, background: '#888', noise } })
      .jpeg({ quality: 95 })
      .toFile(picture);
    await client.make(await client.bringIn(WORK, picture, 'picture.jpg'));
    return new FaultyPair(apodix, client, proxy, folder);
  }

  async stop(): Promise<void> {
    this.#proxy.close();
    await this.#apodix.stop();
    await rm(this.#folder, { recursive: true, force: true });
  }

  /**
   * Lets one schedule happen to one hand-in. Gives how it ended, and what is wrong with that: empty where
   * there is exactly one more delivery with the right bytes, or none and it says so.
   */
  async run(schedule: Schedule): Promise<{ end: 'received' | 'not-handed-in'; wrong: string[] }> {
    this.#round += 1;
    const before = await this.#listReceived();
    const view = await this.#read();
    const [made] = view.made;
    const { parcel } = view;
    const text = { note: `Round ${this.#round}`, participants: '', isOwnWork: true };
    await this.#client.writeParcel(WORK, { ...parcel, text });
    this.#proxy.set(schedule.faults);
    await Promise.all(Array.from({ length: schedule.tabs }, () => this.#press()));
    const startedAt = Date.now();
    for (const { atMs, what } of schedule.moments) {
      await wait(Math.max(0, startedAt + atMs - Date.now()));
      await this.#happen(what);
    }
    await this.#settle();
    await this.#proxy.settle();
    const after = await this.#read();
    const fresh = (await this.#listReceived()).filter(
      (each) => !before.some((old) => old.deliveryId === each.deliveryId),
    );
    const own = after.handIns.slice(0, after.handIns.length - view.handIns.length);
    const said = own.filter((each) => each.state === 'received');
    const wrong: string[] = [];
    // A second press after the first has arrived is the same hand-in: nothing in it was changed.
    if (fresh.length > 1) wrong.push(`${fresh.length} deliveries`);
    if (said.length !== fresh.length) wrong.push(`${said.length} said, ${fresh.length} received`);
    if (fresh.some((each) => each.files[0]?.sha256 !== made?.sha256)) wrong.push('other bytes');
    const [receiptOf] = said;
    if (receiptOf) {
      const receipt = await this.#client.readReceipt(receiptOf.receiptId ?? '');
      if (receipt.courseSite.deliveryId !== fresh[0]?.deliveryId) wrong.push('receipt of another delivery');
      if (after.state !== 'handed-in') wrong.push(`told as ${after.state}`);
    } else if (own.some((each) => each.state !== 'not-handed-in' || each.fault === null))
      wrong.push('not said why it is not handed in');
    if (new Set(said.map((each) => each.attempt)).size !== said.length) wrong.push('an attempt twice');
    return { end: fresh.length > 0 ? 'received' : 'not-handed-in', wrong };
  }

  async #happen(what: Moment['what']): Promise<void> {
    if (what === 'press') await this.#press();
    else if (what === 'kill-server') await this.#apodix.crash();
    else if (what === 'kill-site') {
      await this.#apodix.killSite();
      await this.#apodix.startSiteAgain();
    } else if (what === 'refuse')
      await this.#apodix.callSite('/api/fault', {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ mode: 'too-large', times: 1 }),
      });
    else {
      const job = (await this.#read()).jobs.find((each) => ['waiting', 'running'].includes(each.state));
      if (job) await this.#post(`/api/jobs/${job.id}/cancel`);
    }
  }

  async #settle(): Promise<void> {
    for (const end = Date.now() + LONGEST_SETTLING_MS; ;) {
      const view = await this.#read();
      if (view.handIns.length > 0 && view.handIns.every((each) => each.state !== 'on-its-way')) break;
      if (Date.now() > end) throw new Error(`Never settled: ${JSON.stringify([view.handIns[0], view.jobs])}`);
      await wait(60);
    }
    await this.#apodix.callSite('/api/fault', {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ mode: 'none', times: 1 }),
    });
  }

  async #press(): Promise<void> {
    const answer = await this.#post(`/api/assignments/${WORK}/hand-in`);
    if (answer.ok) JobView.parse(await answer.json());
    else if (answer.status !== 409) throw new Error(`Hand in answered ${answer.status}`);
  }

  #post(path: string): Promise<Response> {
    return fetch(this.#apodix.url + path, { method: 'POST', headers: { cookie: this.#client.cookie } });
  }

  #read(): Promise<AssignmentView> {
    return this.#client.readAssignment(WORK);
  }

  async #listReceived(): Promise<SiteDelivery[]> {
    const answer = await this.#apodix.callSite('/api/deliveries');
    const { deliveries } = (await answer.json()) as { deliveries: SiteDelivery[] };
    return deliveries.filter((each) => each.state === 'received');
  }
}
