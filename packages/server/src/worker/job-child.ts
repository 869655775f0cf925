import { ApodixError, measureFramesUs, planNextSample, planSamples, type FrameTimes } from '@apodix/core';
import { bringIn, makeFile, openIntermediate, runPhotoChild, runTool, sampleTake } from '@apodix/engine';
import { join } from 'node:path';
import { deliver } from './deliver.ts';
import { WorkerTask, type WorkerMessage } from './messages.ts';

/** One job in a process of its own. It ends when its parent does, however that ended. */
const controller = new AbortController();
process.once('disconnect', () => {
  controller.abort();
  setTimeout(() => process.exit(1), 1500).unref();
});
process.once('SIGTERM', () => controller.abort());

function send(message: WorkerMessage): Promise<void> {
  return new Promise((resolve) => {
    if (process.send && process.connected) process.send(message, undefined, undefined, () => resolve());
    else resolve();
  });
}

const onProgress = (progress: { stage: string; share: number; secondsLeft: number | null }) =>
  void send({ type: 'progress', ...progress });

async function work(task: WorkerTask): Promise<unknown> {
  const { signal } = controller;
  if (task.kind === 'inspect')
    return bringIn(task.sourcePath, task.folder, { signal, onProgress, mostLines: task.mostLines });
  if (task.kind === 'deliver')
    return deliver({
      ...task,
      signal,
      onProgress: (stage, share) => onProgress({ stage, share, secondsLeft: null }),
    });
  const frames: FrameTimes | null = task.facts.video
    ? { timesUs: task.analysis.frameTimesUs, endUs: task.analysis.frameEndUs }
    : null;
  const working = await openIntermediate(task.working.intermediatePath);
  if (task.kind === 'sample') {
    const spec = planSamples(task.facts, task.analysis, task.recipe, task.limits);
    if (!spec || !frames) throw new ApodixError('CANCELLED');
    const { facts, recipe, limits, analysis } = task;
    return sampleTake({
      ...task,
      working,
      frames,
      spec,
      scratchFolder: task.folder,
      signal,
      onProgress,
      findNext: (samples) =>
        planNextSample({
          facts,
          recipe,
          limits,
          frames,
          samples,
          complexity: analysis.complexity,
          takeName: 'take',
          nameContext: null,
        }),
    });
  }
  const made = await makeFile({
    ...task,
    working,
    frames,
    complexity: task.analysis.complexity,
    keyframesUs: task.analysis.keyframesUs,
    judge: { limits: task.limits, nameContext: task.nameContext },
    momentsFolder: task.folder,
    outputPath: join(task.folder, `made.${task.plan.container}`),
    signal,
    onProgress,
  });
  return {
    path: made.path,
    facts: made.facts,
    findings: made.findings,
    comparison: made.comparison,
    plan: made.plan,
    moments: made.moments,
    poster: await makePoster(made.path, task),
  };
}

async function makePoster(path: string, task: Extract<WorkerTask, { kind: 'make' }>): Promise<string | null> {
  const poster = join(task.folder, 'poster.jpg');
  if (task.plan.kind === 'photo') {
    await runPhotoChild(
      {
        task: 'preview',
        path,
        container: task.plan.container,
        outputs: [{ path: poster, longEdgePx: 640, quality: 82 }],
      },
      controller.signal,
    );
    return poster;
  }
  if (task.plan.kind === 'sound') return null;
  const middleS = measureFramesUs(task.plan) / 2e6;
  const result = await runTool({
    tool: 'ffmpeg',
    args: [
      '-v',
      'error',
      '-nostdin',
      '-ss',
      middleS.toFixed(3),
      '-i',
      `file:${path}`,
      '-frames:v',
      '1',
      '-vf',
      'scale=640:640:force_original_aspect_ratio=decrease',
      '-q:v',
      '4',
      '-f',
      'image2',
      '-update',
      '1',
      '-y',
      poster,
    ],
    signal: controller.signal,
  });
  return result.exitCode === 0 ? poster : null;
}

process.once('message', (rawTask) => {
  void (async () => {
    try {
      await send({ type: 'done', result: await work(WorkerTask.parse(rawTask)) });
    } catch (error) {
      const fault =
        error instanceof ApodixError
          ? error
          : new ApodixError(controller.signal.aborted ? 'CANCELLED' : 'UNEXPECTED', { cause: error });
      const cause = fault.cause instanceof Error ? (fault.cause.stack ?? fault.cause.message) : undefined;
      await send({
        type: 'failed',
        code: fault.code,
        ...(fault.detail === undefined ? {} : { detail: fault.detail }),
        ...(cause === undefined ? {} : { trace: cause.slice(-4000) }),
      });
    }
    process.exit(0);
  })();
});
