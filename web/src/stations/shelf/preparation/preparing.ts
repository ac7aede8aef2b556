/** A line of a mix that is to be prepared first, and where to come back to; handed over as the page's state. */
export type PrepareLine = {
  start: { slug: string; name: string; typed: string };
  back: { mixId: number; at: number };
};

/** What comes back to the Bench: the preparation that takes the place of the line. */
export type FromPreparation = { prepared: { at: number; ingredient: string; typed: string } };
