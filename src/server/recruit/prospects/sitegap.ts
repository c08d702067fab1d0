/** What stands between two sites in the text that is searched: nothing that can be typed. */
export const siteGap = ' | ';
