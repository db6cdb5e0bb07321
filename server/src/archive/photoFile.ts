/** Where the photo of a line of the logbook lies in an archive. */
export const photoFile = (entry: string): string => `photos/${entry}`
