/** Sends the file unchanged, so that the server finds bytes that are not UTF-8. */
export const asItIs = (file: File) => ({
  body: file as unknown as string,
  bodySerializer: (body: unknown) => body as File,
  headers: { "Content-Type": "text/csv" },
});
