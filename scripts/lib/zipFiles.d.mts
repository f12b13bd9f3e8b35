export function unzipped(bytes: Buffer): Promise<Map<string, Buffer>>;
export function zipped(files: ReadonlyMap<string, Buffer>): Promise<Buffer>;
export function withFiles(files: ReadonlyMap<string, Buffer>, changed: ReadonlyMap<string, Buffer>): Promise<Buffer>;
