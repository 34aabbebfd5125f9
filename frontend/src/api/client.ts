import createClient from "openapi-fetch";

import type { EditIn, ErrorBody, ErrorOut, paths } from "./schema";

export const api = createClient<paths>({ baseUrl: "" });

const shutOut = new Set<() => void>();

/** Call back when the server asks for its password again. */
export function onShutOut(told: () => void) {
  shutOut.add(told);
  return () => {
    shutOut.delete(told);
  };
}

api.use({
  onResponse({ response, schemaPath }) {
    if (response.status === 401 && schemaPath !== "/api/session") shutOut.forEach((told) => told());
  },
});

export type Edit = EditIn["edits"][number];

/** What the server said was wrong; a lost connection is told in the same form. */
export function complaint(e: unknown): ErrorBody {
  const body = (e as ErrorOut | undefined)?.error;
  if (body) return body;
  return {
    field: "connection",
    said: "Rhombex does not answer.",
    kept: "Everything up to the last step is kept.",
    do: "Start it again, then reload this page.",
  };
}
