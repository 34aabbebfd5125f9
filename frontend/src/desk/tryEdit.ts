import { api, type Edit } from "../api/client";

/** The design as it would be after some edits. */
export async function tryEdits(id: string, edits: Edit[]) {
  const { data } = await api.POST("/api/designs/{id}/tried", {
    params: { path: { id } },
    body: { edits },
  });
  return data && { there: data };
}

/** The design as it would be after an edit. */
export const tryEdit = (id: string, edit: Edit) => tryEdits(id, [edit]);
