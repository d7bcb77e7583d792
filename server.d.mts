import type { Server } from 'node:http';

export function securityHeaders(): Record<string, string>;
export function startServer(options?: {
  host?: string;
  port?: number;
}): Promise<{ server: Server; address: string }>;
