import {
  ApodixError,
  faultCatalogue,
  Id,
  KeyedLock,
  SHA256_HEADER,
  TakeOrigin,
  UPLOAD_PATH,
} from '@apodix/core';
import { FileStore } from '@tus/file-store';
import { Server, type Upload } from '@tus/server';
import type { NextFunction, Request, RequestHandler, Response } from 'express';
import { randomUUID } from 'node:crypto';
import { readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { grant } from '../access/guards.ts';
import { TakeRow, TakeUseRow, type PersonRow } from '../data/models.ts';
import { readPhoneSecret } from '../phones/phone-cookie.ts';
import { findSender, type Sender } from '../phones/phone-links.ts';
import type { Services } from '../services/services.ts';
import { findCaller } from '../sessions/find-caller.ts';
import { createTake } from './create-take.ts';
import { describeInspectJob } from './inspect-job.ts';
import { requireRoom } from './quota.ts';

export interface Uploads {
  readonly handle: RequestHandler;
  /** Takes over what had arrived whole when the last process ended. */
  recover(): Promise<void>;
  /** Forgets uploads that were begun and left; gives how many. */
  removeExpired(): Promise<number>;
}

const UPLOAD_DAYS = 7;
const LONGEST_NAME = 300;
const TUS_VERSION = '1.0.0';
const SHA256 = /^[0-9a-f]{64}$/;
/** The SHA-256 of the whole file, as its sender worked it out, stands beside the upload until it is whole. */
const PROOF_ENDING = '.sha256';

/** The person is the first part of an upload's name, the take its last. */
const nameUpload = (personId: string) => `${personId}.${randomUUID()}`;
const readTakeId = (uploadId: string) => uploadId.split('.').at(-1) ?? uploadId;
const readPersonId = (uploadId: string) => uploadId.split('.').slice(0, -1).join('.');
/** What else lies beside an upload is no upload. */
const isUpload = (name: string) => !name.endsWith('.json') && !name.endsWith(PROOF_ENDING);
const isWhole = (upload: Upload) => upload.size !== undefined && upload.offset === upload.size;

/**
 * Resumable uploads (tus 1.0.0) into the blob store. An upload's id begins with the person it belongs to, so
 * that nobody else can read or go on with it. The take has the id of its upload: taking over twice makes one
 * take, and whoever asks how far an upload is that was taken over is told that it is whole.
 */
export function createUploads(services: Services): Uploads {
  const folder = join(services.settings.APODIX_DATA, 'uploads');
  const lock = new KeyedLock();
  const store = new FileStore({
    directory: folder,
    expirationPeriodInMilliseconds: UPLOAD_DAYS * 86_400_000,
  });

  /** Somebody signed in here, or a phone that was let in for somebody by a link. */
  const requireSender = async (
    cookie: string | null | undefined,
  ): Promise<{ person: PersonRow; phone: Sender | null }> => {
    const person = await findCaller(services.sessions, { headers: { cookie: cookie ?? undefined } });
    const phone = person ? null : await findSender(readPhoneSecret(cookie));
    const sender = person ?? phone?.person;
    if (!sender) throw new ApodixError('NOT_SIGNED_IN');
    return { person: sender, phone };
  };
  const requireCaller = async (cookie: string | null | undefined) => (await requireSender(cookie)).person;
  const proofPath = (uploadId: string) => join(folder, `${uploadId}${PROOF_ENDING}`);
  const listOwn = async (personId: string) =>
    (await readdir(folder).catch(() => [])).filter(
      (name) => isUpload(name) && readPersonId(name) === personId,
    );

  /** Bytes that uploads of a person which are under way still count for. */
  async function sumPending(personId: string): Promise<number> {
    let sum = 0;
    for (const name of await listOwn(personId))
      sum += (await store.getUpload(name).catch(() => null))?.size ?? 0;
    return sum;
  }

  const server = new Server({
    path: UPLOAD_PATH,
    datastore: store,
    maxSize: services.settings.APODIX_MAX_UPLOAD_BYTES,
    relativeLocation: true,
    respectForwardedHeaders: false,
    namingFunction: (request) =>
      asTus(async () => nameUpload((await requireCaller(request.headers.get('cookie'))).id)),
    onIncomingRequest: (request, uploadId) =>
      asTus(async () => {
        const person = await requireCaller(request.headers.get('cookie'));
        if (request.method === 'POST') return;
        if (readPersonId(uploadId) !== person.id) throw new ApodixError('NOT_ALLOWED');
        const told = request.headers.get(SHA256_HEADER);
        // Written down before the bytes come, so that a crash in between forgets nothing.
        if (told !== null && SHA256.test(told)) await writeFile(proofPath(uploadId), told);
      }),
    onUploadCreate: (request, upload) =>
      asTus(async () => {
        const { person, phone } = await requireSender(request.headers.get('cookie'));
        // A phone sends for what its link was made for, whatever it says.
        const assignmentId = phone ? (phone.assignmentId ?? '') : (upload.metadata?.assignmentId ?? '');
        const told = TakeOrigin.safeParse(upload.metadata?.origin);
        const origin = phone ? 'phone' : told.success && told.data !== 'phone' ? told.data : 'file';
        // Without one it is a take for nothing yet.
        if (assignmentId !== '') await grant('assignment', person, { assignmentId }, services);
        await requireRoom(person, (upload.size ?? 0) + (await sumPending(person.id)), services.settings);
        const name = (upload.metadata?.name ?? 'take').slice(0, LONGEST_NAME);
        return { metadata: { ...upload.metadata, name, assignmentId, origin } };
      }),
    onUploadFinish: (_request, upload) =>
      asTus(async () => {
        await takeOver(upload);
        return {};
      }),
  });

  /** Makes a take of an upload that is whole; done twice it changes nothing. */
  function takeOver(upload: Upload): Promise<void> {
    return lock.run(upload.id, async () => {
      const path = join(folder, upload.id);
      const [takeId, personId] = [readTakeId(upload.id), readPersonId(upload.id)];
      const parsed = Id.safeParse(upload.metadata?.assignmentId);
      const assignmentId = parsed.success ? parsed.data : null;
      if (!(await TakeRow.findByPk(takeId))) {
        const { sha256, sizeBytes } = await services.blobs.adopt(path, { isKept: true });
        await requireSame(upload.id, sha256);
        await createTake(services.sequelize, {
          id: takeId,
          personId,
          name: upload.metadata?.name ?? 'take',
          origin: TakeOrigin.catch('file').parse(upload.metadata?.origin),
          sha256,
          sizeBytes,
          assignmentId,
        });
      }
      await forget(upload.id);
      await inspect(takeId, assignmentId);
      if (assignmentId !== null) services.live.tell(personId, { type: 'work', assignmentId });
      services.live.tell(personId, { type: 'takes' });
    });
  }

  const forget = (uploadId: string) =>
    Promise.all(
      ['', '.json', PROOF_ENDING].map((ending) => rm(join(folder, `${uploadId}${ending}`), { force: true })),
    );

  /** Throws away what arrived where its sender knows other bytes; throws `ARRIVED_CHANGED` then. */
  async function requireSame(uploadId: string, sha256: string): Promise<void> {
    const told = await readFile(proofPath(uploadId), 'utf8').catch(() => null);
    if (told === null || told === sha256) return;
    await forget(uploadId);
    await services.references.release([sha256]);
    throw new ApodixError('ARRIVED_CHANGED');
  }

  async function inspect(takeId: string, assignmentId: string | null): Promise<void> {
    const take = await TakeRow.findByPk(takeId);
    if (take?.state === 'inspecting') await services.jobs.add(describeInspectJob(take, assignmentId));
  }

  /**
   * How far an upload is. One that is whole is taken over before that is said, so that whoever is told the
   * full offset has a take; a fault in it is told as a fault, and asking again tries again.
   */
  async function tellOffset(request: Request, response: Response): Promise<boolean> {
    const uploadId = decodeURIComponent(request.path.slice(UPLOAD_PATH.length + 1));
    const person = await requireCaller(request.headers.cookie);
    if (readPersonId(uploadId) !== person.id) return false;
    const upload = await store.getUpload(uploadId).catch(() => null);
    if (upload && isWhole(upload)) await takeOver(upload);
    const take = await TakeRow.findByPk(readTakeId(uploadId));
    if (take?.personId !== person.id) return false;
    response
      .status(200)
      .set({
        'tus-resumable': TUS_VERSION,
        'cache-control': 'no-store',
        'upload-offset': String(take.sizeBytes),
        'upload-length': String(take.sizeBytes),
      })
      .end();
    return true;
  }

  return {
    handle: async (request: Request, response: Response, next: NextFunction) => {
      try {
        if (request.method === 'HEAD' && (await tellOffset(request, response))) return;
        await server.handle(request, response);
      } catch (error) {
        services.log.error({ err: error }, 'An upload could not be answered');
        next(error);
      }
    },
    removeExpired: () => server.cleanUpExpiredUploads(),
    recover: async () => {
      const names = await readdir(folder).catch(() => []);
      for (const name of names.filter(isUpload)) {
        const upload = await store.getUpload(name).catch(() => null);
        if (upload && isWhole(upload))
          await takeOver(upload).catch((error: unknown) =>
            services.log.error({ err: error }, 'An upload could not be recovered'),
          );
      }
      for (const take of await TakeRow.findAll({ where: { state: 'inspecting', removedAt: null } })) {
        const use = await TakeUseRow.findOne({ where: { takeId: take.id } });
        await inspect(take.id, use?.assignmentId ?? null);
      }
    },
  };

  /** tus wants faults as an object with a status and a body. */
  async function asTus<T>(work: () => Promise<T>): Promise<T> {
    try {
      return await work();
    } catch (error) {
      const fault = error instanceof ApodixError ? error : new ApodixError('UNEXPECTED', { cause: error });
      if (fault.code === 'UNEXPECTED') services.log.error({ err: error }, 'An upload failed');
      throw { status_code: faultCatalogue[fault.code].httpStatus, body: JSON.stringify(fault.toJSON()) };
    }
  }
}
