/** Names that file systems leave beside what people put in a folder. */
const LEFT_BY_SYSTEMS = /^(?:\.DS_Store|Thumbs\.db|desktop\.ini|\._.*)$/;

/**
 * All files that were dropped or pasted, those in folders too, in the order of their names within a folder.
 */
export async function readDroppedFiles(transfer: DataTransfer): Promise<File[]> {
  // Asked for at once: after the event the list is empty.
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry?.() ?? null);
  const plain = [...transfer.files];
  if (entries.every((entry) => entry === null || entry.isFile)) return plain;
  const found: File[] = [];
  for (const entry of entries) if (entry) found.push(...(await readEntry(entry)));
  return found;
}

async function readEntry(entry: FileSystemEntry): Promise<File[]> {
  if (LEFT_BY_SYSTEMS.test(entry.name)) return [];
  if (entry.isFile)
    return [await new Promise<File>((done, fail) => (entry as FileSystemFileEntry).file(done, fail))];
  const files: File[] = [];
  for (const child of await listFolder(entry as FileSystemDirectoryEntry))
    files.push(...(await readEntry(child)));
  return files;
}

/** A folder tells its entries a hundred at a time, until it tells none. */
async function listFolder(folder: FileSystemDirectoryEntry): Promise<FileSystemEntry[]> {
  const reader = folder.createReader();
  const all: FileSystemEntry[] = [];
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((done, fail) => reader.readEntries(done, fail));
    if (some.length === 0) break;
    all.push(...some);
  }
  return all.sort((left, right) => left.name.localeCompare(right.name, undefined, { numeric: true }));
}
