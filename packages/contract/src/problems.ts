/**
 * Everything that a request can be refused for: its HTTP status, and its name for people. The code makes the `type` of the answer,
 * `urn:yield:problem:<code>`, and stays the same whatever the name becomes.
 *
 * @see RFC 9457, Problem Details for HTTP APIs
 */
export const PROBLEMS = {
  'another-page': { status: 403, title: 'Another page' },
  'broken-off': { status: 400, title: 'Broken off' },
  'changed-elsewhere': { status: 409, title: 'Changed elsewhere' },
  'client-gone': { status: 499, title: 'Broken off' },
  'database-not-reached': { status: 503, title: 'Database not reached' },
  'disk-full': { status: 507, title: 'Disk full' },
  'encoding-not-read': { status: 415, title: 'Encoding not supported' },
  'input-not-valid': { status: 422, title: 'Input not valid' },
  'json-expected': { status: 415, title: 'JSON expected' },
  'not-found': { status: 404, title: 'Not found' },
  'not-json': { status: 400, title: 'Not JSON' },
  'not-this-server': { status: 421, title: 'Not this server' },
  'request-not-understood': { status: 400, title: 'Request not understood' },
  'something-went-wrong': { status: 500, title: 'Something went wrong' },
  'too-busy': { status: 503, title: 'Too busy' },
  'too-large': { status: 413, title: 'Too large' },
  'too-much': { status: 422, title: 'Takes too long' },
  'unsupported-file-type': { status: 415, title: 'Unsupported file type' },
  // A capture that cannot be read, by what it lacks.
  'capture-empty': { status: 422, title: 'Empty file' },
  'capture-not-text': { status: 422, title: 'Not a text file' },
  'capture-no-data': { status: 422, title: 'No data in this file' },
  'capture-no-time': { status: 422, title: 'No time in this file' },
  'capture-time-backwards': { status: 422, title: 'Time runs backwards' },
  'capture-time-uneven': { status: 422, title: 'Samples not evenly spaced' },
  'capture-value-missing': { status: 422, title: 'Value missing' },
  'capture-value-unreadable': { status: 422, title: 'Value not readable' },
  'capture-format-unknown': { status: 422, title: 'File format not supported' },
} as const satisfies Record<string, { status: number; title: string }>;

export type ProblemCode = keyof typeof PROBLEMS;

export const problemType = (code: ProblemCode): string => `urn:yield:problem:${code}`;
