/** Where the bundled command line lies. */
export const PROGRAM: string;

/** Bundles the program unless the bundle is younger than its sources and its packages. */
export function bundleCommandLine(): Promise<void>;
