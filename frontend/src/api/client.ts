import createClient from "openapi-fetch";

import type { EditIn, ErrorBody, ErrorOut, paths } from "./schema";

type Method = "get" | "post" | "put" | "delete";
type At<M extends Method> = {
  [P in keyof paths]: paths[P] extends Record<M, { responses: unknown }> ? P : never;
}[keyof paths];
type Op<P extends keyof paths, M extends Method> = paths[P] extends Record<M, infer O> ? O : never;
type Json<R> = R extends { content: { "application/json": infer T } } ? T : never;
type Answers<O> = O extends { responses: infer R } ? R : never;
type Good<O> = { [S in keyof Answers<O> & (200 | 201 | 202)]: Json<Answers<O>[S]> }[keyof Answers<O> &
  (200 | 201 | 202)];
type Bad<O> = { [S in Exclude<keyof Answers<O>, 200 | 201 | 202>]: Json<Answers<O>[S]> }[Exclude<
  keyof Answers<O>,
  200 | 201 | 202
>];
type Body<O> = O extends { requestBody: { content: infer C } }
  ? C extends { "application/json": infer T }
    ? { body: T }
    : { body: FormData }
  : { body?: never };
type Params<O> = O extends { parameters: { path: infer V extends Record<string, unknown> } }
  ? { params: { path: V } }
  : object;
type Query<O> = O extends { parameters: { query?: infer Q } } ? { params?: { query?: Q } } : object;
type Asked<O> = Params<O> & Query<O> & Body<O> & { signal?: AbortSignal };
type Answer<O> =
  | { data: Good<O>; error?: undefined; response: Response }
  | { data?: undefined; error: Bad<O>; response: Response };
type Call<M extends Method> = <P extends At<M>>(
  path: P,
  ...asked: object extends Asked<Op<P, M>> ? [Asked<Op<P, M>>?] : [Asked<Op<P, M>>]
) => Promise<Answer<Op<P, M>>>;

const client = createClient<paths>({ baseUrl: "" });

/** The API with its types as they are generated: openapi-fetch's own answers forget that a tuple has a length, and its bodies know
 * no form. This is the one place that says otherwise. */
export const api = client as unknown as {
  GET: Call<"get">;
  POST: Call<"post">;
  PUT: Call<"put">;
  DELETE: Call<"delete">;
};

const shutOut = new Set<() => void>();

/** Call back when the server asks for its password again. */
export function onShutOut(told: () => void) {
  shutOut.add(told);
  return () => {
    shutOut.delete(told);
  };
}

client.use({
  onResponse({ response, schemaPath }) {
    if (response.status === 401 && schemaPath !== "/api/session") shutOut.forEach((told) => told());
  },
});

export type Edit = EditIn["edits"][number];

function toldWrong(e: unknown): e is ErrorOut {
  return typeof e === "object" && e !== null && "error" in e;
}

/** What the server said was wrong; a lost connection is told in the same form. */
export function complaint(e: unknown): ErrorBody {
  if (toldWrong(e)) return e.error;
  return {
    field: "connection",
    message: "Rhombex does not answer.",
    kept: "Everything up to the last step is kept.",
    do: "Start it again, then reload this page.",
  };
}
