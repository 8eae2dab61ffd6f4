import { problemDocument } from "./problemDocument.ts";

const loopback = /^(localhost|127\.\d+\.\d+\.\d+|\[::1\])(:\d+)?$/;

/**
 * Keeps other pages and other names for this machine out: a request must be addressed to the loopback, and one that a
 * page makes must come from a page of this very service. Without it, any page in the browser could reach the service, or
 * take a name of its own that leads here.
 *
 * @returns the answer that refuses the request; `undefined` where it may be answered
 */
export function refusedElsewhere(request: Request): Response | undefined {
  const host = request.headers.get("host") ?? new URL(request.url).host;
  if (!loopback.test(host)) return problemDocument(403, "This service only answers on this machine.");
  const origin = request.headers.get("origin");
  return origin === null || origin === `http://${host}`
    ? undefined
    : problemDocument(403, "Another page may not use this service.");
}
