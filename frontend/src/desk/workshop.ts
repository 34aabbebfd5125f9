import type { ShopEditIn, Workshop } from "../api/schema";

/** A change of the workshop. */
export type ShopEdit = ShopEditIn["edits"][number];

/** Do changes of the workshop; given as a function they are worked out from the workshop as it stands when their turn comes. */
export type Put = (edits: ShopEdit[] | ((now: Workshop) => ShopEdit[])) => void;
