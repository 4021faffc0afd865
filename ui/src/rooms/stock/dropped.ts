/** What was dropped, folders walked through: every file with its path as text. */

export interface Dropped {
  path: string;
  file: File;
}

const MOST = 2000;
const WANTED = /\.(png|jpe?g|tiff?|exr|webp|tga|zip)$|(^|\/)set\.json$/i;

export function wanted(path: string): boolean {
  return WANTED.test(path) && !path.split("/").some((part) => part.startsWith(".") || part === "__MACOSX");
}

function fileOf(entry: FileSystemFileEntry): Promise<File> {
  return new Promise((done, failed) => entry.file(done, failed));
}

function readSome(reader: FileSystemDirectoryReader): Promise<FileSystemEntry[]> {
  return new Promise((done, failed) => reader.readEntries(done, failed));
}

async function walk(entry: FileSystemEntry, path: string, out: Dropped[]): Promise<void> {
  if (out.length >= MOST) return;
  if (entry.isFile) {
    if (wanted(path)) out.push({ path, file: await fileOf(entry as FileSystemFileEntry) });
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  for (let some = await readSome(reader); some.length > 0; some = await readSome(reader)) {
    for (const inside of some) await walk(inside, `${path}/${inside.name}`, out);
  }
}

/** Folders and files of a drop. Entries must be taken before the event is over, so that happens first. */
export async function fromDrop(data: DataTransfer): Promise<Dropped[]> {
  const entries = [...data.items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
  if (entries.length === 0) return fromFiles([...data.files]);
  const out: Dropped[] = [];
  for (const entry of entries) await walk(entry, entry.name, out);
  return out;
}

export function fromFiles(files: File[]): Dropped[] {
  return files.map((file) => ({ path: file.webkitRelativePath || file.name, file })).filter((one) => wanted(one.path));
}
