/** The lines that a page's small mouths are drawn of: sent once a page, the same for all. */
import { createContext } from "react";
import type { Schemas } from "../../api/client";

export type Lines = Schemas["Lines"];

export const PageLines = createContext<Lines>({ front: [], side: [] });
