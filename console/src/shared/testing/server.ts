/**
 * Stands where the network is, before the client is made: a page's test says what is answered. Without one
 * nothing is sent anywhere.
 */
let answer: (request: Request) => Promise<Response> = () => Promise.reject(new Error('No test answers'));

globalThis.fetch = (input, init) => answer(input instanceof Request ? input : new Request(String(input), init));

export function answerWith(next: (request: Request) => Promise<Response>) {
  answer = next;
}
