import { problemDocument } from "./problemDocument.ts";

/** How much of a body is read, and for how long. */
export interface BodyLimits {
  /** In bytes. */
  readonly maxBody: number;
  /** In milliseconds. */
  readonly timeout: number;
}

/** The body of a request as JSON; the answer that refuses it where it is too large, comes too slowly or is not JSON. */
export async function readBody(request: Request, limits: BodyLimits): Promise<{ json: unknown } | Response> {
  // What is not read to its end can't be followed by another request on the same connection.
  const close = { connection: "close" };
  const declared = Number(request.headers.get("content-length") ?? 0);
  if (declared > limits.maxBody) return problemDocument(413, "The request is too large.", undefined, close);
  const pieces: Uint8Array[] = [];
  let size = 0;
  const reader = request.body?.getReader();
  const late = new Promise<"late">((go) => void setTimeout(() => go("late"), limits.timeout).unref());
  for (let done = reader === undefined; !done;) {
    const read = await Promise.race([reader!.read(), late]);
    if (read === "late" || (read.value !== undefined && size + read.value.length > limits.maxBody)) {
      void reader!.cancel().catch(() => undefined);
      return read === "late"
        ? problemDocument(408, "The request did not come to its end in time.", undefined, close)
        : problemDocument(413, "The request is too large.", undefined, close);
    }
    done = read.done;
    if (read.value !== undefined) pieces.push(read.value);
    size += read.value?.length ?? 0;
  }
  try {
    return { json: JSON.parse(Buffer.concat(pieces).toString("utf8")) as unknown };
  } catch {
    return problemDocument(400, "The request is not JSON.");
  }
}
