import { platform } from "./platform.ts";

const hex = (bytes: Uint8Array): string => Array.from(bytes, (byte) => byte.toString(16).padStart(2, "0")).join("");

/** A UUID, version 7 (RFC 9562): nobody makes the same again, and later ones come later in the order of texts. */
export function newId(now = platform.now()): string {
  const bytes = platform.randomBytes(10);
  bytes[0] = 0x70 | (bytes[0]! & 0x0f);
  bytes[2] = 0x80 | (bytes[2]! & 0x3f);
  const text = now.toString(16).padStart(12, "0") + hex(bytes);
  return [text.slice(0, 8), text.slice(8, 12), text.slice(12, 16), text.slice(16, 20), text.slice(20)].join("-");
}
