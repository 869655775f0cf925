/** What an upload by hand came to. */
export interface SentUpload {
  readonly created: number;
  readonly status: number;
  readonly text: string;
  readonly location: URL;
}

export interface UploadTo {
  readonly url: string;
  readonly cookie: string;
}

/** Names an upload of so many bytes to the server (tus 1.0, creation); gives where its bytes go. */
export async function createUpload(
  { url, cookie }: UploadTo,
  byteCount: number,
  metadata: Readonly<Record<string, string>>,
): Promise<{ status: number; location: URL }> {
  const words = Object.entries(metadata).map(
    ([key, value]) => `${key} ${Buffer.from(value).toString('base64')}`,
  );
  const created = await fetch(`${url}/api/uploads`, {
    method: 'POST',
    headers: {
      cookie,
      'tus-resumable': '1.0.0',
      'upload-length': String(byteCount),
      'upload-metadata': words.join(','),
    },
  });
  return { status: created.status, location: new URL(created.headers.get('location') ?? '', url) };
}

/** An upload by hand: creates it and sends all bytes at once. */
export async function sendUpload(
  to: UploadTo,
  bytes: Buffer,
  metadata: Readonly<Record<string, string>>,
  headers: Readonly<Record<string, string>> = {},
): Promise<SentUpload> {
  const { status, location } = await createUpload(to, bytes.length, metadata);
  const send = await fetch(location, {
    method: 'PATCH',
    headers: {
      cookie: to.cookie,
      'tus-resumable': '1.0.0',
      'upload-offset': '0',
      'content-type': 'application/offset+octet-stream',
      ...headers,
    },
    body: new Uint8Array(bytes),
  });
  return { created: status, status: send.status, text: await send.text(), location };
}
