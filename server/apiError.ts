/** Why a request is not answered as asked: a status, a code for programs, a message and what to do. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly hint: string,
  ) {
    super(message);
  }
}
