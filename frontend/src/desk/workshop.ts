import type { ShopEditIn } from "../api/schema";

/** A change of the workshop. */
export type ShopEdit = ShopEditIn["edits"][number];

/** Do changes of the workshop. */
export type Put = (edits: ShopEdit[]) => void;
