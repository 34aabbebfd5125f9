import { createContext } from "react";

/** Whether something that a hand did is still on its way to the server. */
export const Working = createContext(false);
