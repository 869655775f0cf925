import { ApodixError, measureFramesUs, readMaxBytes, type MediaFacts, type Plan } from '@apodix/core';

/**
 * Holds a made file against what it was to be: an exit code proves nothing, so frames, size, color tags and
 * both durations are compared on the measured file, pages with the document that it was made from. Throws
 * `PROOF_FAILED` with the first difference.
 */
export function checkForm(facts: MediaFacts, plan: Plan): void {
  const maxBytes = readMaxBytes(plan);
  const fail = (what: string): never => {
    throw new ApodixError('PROOF_FAILED', { detail: what });
  };
  const wantedKind = plan.kind === 'photo' && plan.container === 'pdf' ? 'document' : plan.kind;
  if (facts.kind !== wantedKind) fail(`It came out as ${facts.kind}.`);
  if (facts.container !== plan.container) fail(`It came out as ${facts.container}.`);
  if (maxBytes !== null && facts.sizeBytes > maxBytes)
    fail(`It has ${facts.sizeBytes} bytes, over ${maxBytes}.`);
  if (facts.locationPresent || facts.deviceSerialPresent) fail('Private data came along.');
  if (plan.kind === 'photo') {
    const isTurned = facts.photo !== null && facts.photo.orientation !== 1;
    if (isTurned) fail('An orientation tag came along.');
    // Of a document the largest picture may be one that is left as it is: the limits themselves judge it.
    if (
      facts.photo &&
      plan.container !== 'pdf' &&
      (facts.photo.widthPx > plan.widthPx + 1 || facts.photo.heightPx > plan.heightPx + 1)
    )
      fail(
        `It is ${facts.photo.widthPx}×${facts.photo.heightPx}, more than ${plan.widthPx}×${plan.heightPx}.`,
      );
    return;
  }
  if (plan.kind === 'video') checkVideo(facts, plan, fail);
  if ((plan.sound === null) !== (facts.sound === null))
    fail(plan.sound ? 'The sound is missing.' : 'Sound came along.');
}

function checkVideo(
  facts: MediaFacts,
  plan: Extract<Plan, { kind: 'video' }>,
  fail: (what: string) => never,
): void {
  const { video } = facts;
  if (!video) return fail('The picture is missing.');
  if (video.frameCount !== plan.cut.frameCount)
    fail(`It has ${video.frameCount} pictures instead of ${plan.cut.frameCount}.`);
  if (video.widthPx !== plan.cut.widthPx || video.heightPx !== plan.cut.heightPx)
    fail(`It is ${video.widthPx}×${video.heightPx} instead of ${plan.cut.widthPx}×${plan.cut.heightPx}.`);
  if (video.rotationDegrees !== 0 || video.pixelAspect.numerator !== video.pixelAspect.denominator)
    fail('It is not upright with square pixels.');
  if (video.pixelFormat !== 'yuv420p') fail(`Its pictures are ${video.pixelFormat}.`);
  if (video.color.matrix !== 'bt709' || video.color.transfer !== 'bt709')
    fail('Its color tags are not BT.709.');
  if (plan.container === 'mp4' && facts.moovFirst !== true) fail('Its index does not stand first.');
  const plannedUs = measureFramesUs(plan.cut);
  if (facts.sound && facts.sound.startUs + facts.sound.durationUs > plannedUs + 30_000)
    fail('Its sound runs on after the picture.');
}
