/** What a verb prints, with a status of its own where the answer is no. */
export class Answer {
  constructor(
    readonly printed: object,
    readonly status: number,
  ) {}
}
