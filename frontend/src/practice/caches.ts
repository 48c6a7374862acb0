/** What the phone keeps of the student's page: the program, the empty page, and its content. */
export const ASSETS = "sulvet-assets";
export const PAGE = "sulvet-page";
export const OWN = "sulvet-practice";
