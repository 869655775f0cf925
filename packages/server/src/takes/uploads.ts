import { ApodixError, faultCatalogue, Id, KeyedLock, UPLOAD_PATH } from '@apodix/core';
import { FileStore } from '@tus/file-store';
import { Server, type Upload } from '@tus/server';
import type { NextFunction, Request, RequestHandler, Response } from 'express';
import { randomUUID } from 'node:crypto';
import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { grant } from '../access/guards.ts';
import { TakeRow, TakeUseRow, type PersonRow } from '../data/models.ts';
import { transact } from '../data/transact.ts';
import type { Services } from '../services/services.ts';
import { findCaller } from '../sessions/find-caller.ts';
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

/** The person is the first part of an upload's name, the take its last. */
const nameUpload = (personId: string) => `${personId}.${randomUUID()}`;
const readTakeId = (uploadId: string) => uploadId.split('.').at(-1) ?? uploadId;
const readPersonId = (uploadId: string) => uploadId.split('.').slice(0, -1).join('.');
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

  const requireCaller = async (cookie: string | null | undefined): Promise<PersonRow> => {
    const person = await findCaller(services.sessions, { headers: { cookie: cookie ?? undefined } });
    if (!person) throw new ApodixError('NOT_SIGNED_IN');
    return person;
  };
  const listOwn = async (personId: string) =>
    (await readdir(folder).catch(() => [])).filter(
      (name) => !name.endsWith('.json') && readPersonId(name) === personId,
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
        if (request.method !== 'POST' && readPersonId(uploadId) !== person.id)
          throw new ApodixError('NOT_ALLOWED');
      }),
    onUploadCreate: (request, upload) =>
      asTus(async () => {
        const person = await requireCaller(request.headers.get('cookie'));
        const assignmentId = upload.metadata?.assignmentId ?? '';
        // Without one it is a take for nothing yet.
        if (assignmentId !== '') await grant('assignment', person, { assignmentId }, services);
        await requireRoom(person, (upload.size ?? 0) + (await sumPending(person.id)), services.settings);
        const name = (upload.metadata?.name ?? 'take').slice(0, LONGEST_NAME);
        return { metadata: { ...upload.metadata, name, assignmentId } };
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
        const createdAt = new Date();
        await transact(services.sequelize, async (transaction) => {
          await TakeRow.create(
            {
              id: takeId,
              personId,
              name: upload.metadata?.name ?? 'take',
              sha256,
              sizeBytes,
              state: 'inspecting',
              kind: null,
              isShaped: false,
              facts: null,
              proposal: null,
              fault: null,
              proxySha256: null,
              stripSha256: null,
              posterSha256: null,
              createdAt,
            },
            { transaction },
          );
          if (assignmentId !== null)
            await TakeUseRow.create(
              { takeId, assignmentId, personId, isChosen: false, createdAt },
              { transaction },
            );
        });
      }
      await Promise.all([path, `${path}.json`].map((each) => rm(each, { force: true })));
      await inspect(takeId, assignmentId);
      if (assignmentId !== null) services.live.tell(personId, { type: 'work', assignmentId });
      services.live.tell(personId, { type: 'takes' });
    });
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
      for (const name of names.filter((each) => !each.endsWith('.json'))) {
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
