import type { Printer as PrinterIn, ShopEditIn } from "../api/schema";

/** A change of the workshop. */
export type ShopEdit = ShopEditIn["edits"][number];

/** Do changes of the workshop. */
export type Put = (edits: ShopEdit[]) => void;

/** A printer as the server tells it, with every field. */
export type Printer = Required<PrinterIn>;
