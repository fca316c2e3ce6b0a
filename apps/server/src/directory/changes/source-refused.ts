/** A sentence about a source that cannot be taken as a list of people. */
export class SourceRefused extends Error {}
