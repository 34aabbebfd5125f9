import { api, type Edit } from "../api/client";

/** The design as it would be after an edit. */
export async function tryEdit(id: string, edit: Edit) {
  const { data } = await api.POST("/api/designs/{id}/tried", {
    params: { path: { id } },
    body: { edits: [edit] },
  });
  return data && { there: data };
}
