import {
  AssignmentView,
  JobView,
  MadeStarted,
  Receipt,
  RecipeVersion,
  UPLOAD_PATH,
  type ParcelInput,
  type Recipe,
  type Sheet,
} from '@apodix/core';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { setTimeout as wait } from 'node:timers/promises';

/** Uses Apodix as a person's browser would, over HTTP. */
export class ApiClient {
  readonly #url: string;
  #cookie = '';
  /** For which assignment each take was brought in. */
  readonly #served = new Map<string, string>();

  constructor(url: string) {
    this.#url = url;
  }

  /** The session cookie, for calls that this client has no method for. */
  get cookie(): string {
    return this.#cookie;
  }

  async signIn(personId: string): Promise<void> {
    const answer = await this.#fetch('POST', '/api/session', { personId });
    this.#cookie = (answer.headers.get('set-cookie') ?? '').split(';')[0] ?? '';
  }

  async readAssignment(id: string): Promise<AssignmentView> {
    return AssignmentView.parse(await (await this.#fetch('GET', `/api/assignments/${id}`)).json());
  }

  /**
   * Brings in a file (tus 1.0.0, creation and one PATCH) and waits until it has been measured; gives the
   * take's id.
   */
  async bringIn(assignmentId: string, path: string, name: string): Promise<string> {
    const { size } = await stat(path);
    const encode = (text: string) => Buffer.from(text).toString('base64');
    const created = await fetch(new URL(UPLOAD_PATH, this.#url), {
      method: 'POST',
      headers: {
        cookie: this.#cookie,
        'tus-resumable': '1.0.0',
        'upload-length': String(size),
        'upload-metadata': `name ${encode(name)},assignmentId ${encode(assignmentId)}`,
      },
    });
    if (created.status !== 201)
      throw new Error(`The upload of ${name} was refused: ${created.status} ${await created.text()}`);
    const location = new URL(created.headers.get('location') ?? '', created.url);
    const sent = await fetch(location, {
      method: 'PATCH',
      headers: {
        cookie: this.#cookie,
        'tus-resumable': '1.0.0',
        'upload-offset': '0',
        'content-type': 'application/offset+octet-stream',
        'content-length': String(size),
      },
      body: Readable.toWeb(createReadStream(path)) as ReadableStream,
      duplex: 'half',
    } as RequestInit);
    if (sent.status !== 204) throw new Error(`${name} was not taken in: ${sent.status} ${await sent.text()}`);
    const takeId = location.pathname.split('.').at(-1) ?? '';
    this.#served.set(takeId, assignmentId);
    for (;;) {
      const take = (await this.readAssignment(assignmentId)).takes.find((each) => each.id === takeId);
      if (take && take.state !== 'inspecting') return takeId;
      await wait(150);
    }
  }

  async writeRecipe(takeId: string, recipe: Recipe, baseVersion: number): Promise<void> {
    RecipeVersion.parse(
      await (await this.#fetch('PUT', `/api/takes/${takeId}/recipe`, { recipe, baseVersion })).json(),
    );
  }

  async choose(takeId: string): Promise<void> {
    await this.#fetch('PATCH', this.#pathOf(takeId), { isChosen: true });
  }

  async readReceipt(id: string): Promise<Receipt> {
    return Receipt.parse(await (await this.#fetch('GET', `/api/receipts/${id}`)).json());
  }

  /** For the assignment that the take was brought in for, or another one that it serves. */
  async make(takeId: string, assignmentId?: string): Promise<void> {
    const path = `${this.#pathOf(takeId, assignmentId)}/make`;
    const { job } = MadeStarted.parse(await (await this.#fetch('POST', path)).json());
    if (job) await this.#finish(job);
  }

  /** Keeps the first sheet of an assignment. */
  async writeSheet(assignmentId: string, sheet: Sheet): Promise<void> {
    await this.#fetch('PUT', `/api/assignments/${assignmentId}/sheet`, { baseVersion: 0, sheet });
  }

  async writeParcel(assignmentId: string, parcel: ParcelInput): Promise<void> {
    await this.#fetch('PUT', `/api/assignments/${assignmentId}/parcel`, parcel);
  }

  async handIn(assignmentId: string): Promise<void> {
    await this.#finish(
      JobView.parse(await (await this.#fetch('POST', `/api/assignments/${assignmentId}/hand-in`)).json()),
    );
  }

  #pathOf(takeId: string, assignmentId = this.#served.get(takeId) ?? ''): string {
    return `/api/assignments/${assignmentId}/takes/${takeId}`;
  }

  async #finish(started: JobView): Promise<void> {
    for (let job = started; ;) {
      if (job.state === 'done') return;
      if (job.state === 'failed' || job.state === 'cancelled')
        throw new Error(
          `A ${job.kind} job ended as ${job.state}: ${job.fault?.message} ${job.fault?.detail ?? ''}`,
        );
      await wait(150);
      job = JobView.parse(await (await this.#fetch('GET', `/api/jobs/${job.id}`)).json());
    }
  }

  async #fetch(method: string, path: string, body?: unknown): Promise<Response> {
    const answer = await fetch(new URL(path, this.#url), {
      method,
      headers: {
        cookie: this.#cookie,
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    if (!answer.ok) throw new Error(`${method} ${path} answered ${answer.status}: ${await answer.text()}`);
    return answer;
  }
}
