let fileOf: () => File | null = () => null;

/** The file that lies on the desk, where there is one. The desk itself comes with the first visit to it. */
export function deskFile(): File | null {
  return fileOf();
}

/** Says where the file of the desk is to be asked for, once there is a desk. */
export function askDeskFile(ask: () => File | null): void {
  fileOf = ask;
}
