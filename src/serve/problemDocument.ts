import type { Problem } from "../model/index.ts";

/** What is wrong, as RFC 9457 has it. */
export const problemDocument = (
  status: number,
  title: string,
  problems?: readonly Problem[],
  headers: Readonly<Record<string, string>> = {},
): Response =>
  new Response(JSON.stringify({ status, title, problems }), {
    status,
    headers: { "content-type": "application/problem+json", ...headers },
  });
