import type { MiddlewareHandler } from "hono";

const loopback = /^(localhost|127\.\d+\.\d+\.\d+|\[::1\])(:\d+)?$/;

/**
 * Keeps other pages and other names for this machine out: a request must be addressed to the loopback, and one that a
 * page makes must come from a page of this very service. Without it, any page in the browser could reach the service, or
 * take a name of its own that leads here.
 */
export const onlyFromHere: MiddlewareHandler = async (context, next) => {
  const host = context.req.header("host") ?? "";
  if (!loopback.test(host)) return context.json({ title: "This service only answers on this machine." }, 403);
  const origin = context.req.header("origin");
  if (origin !== undefined && origin !== `http://${host}`)
    return context.json({ title: "Another page may not use this service." }, 403);
  await next();
  return;
};
