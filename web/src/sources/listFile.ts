/** The file goes as it is: what is not UTF-8 in it is found, and not covered up on the way. */
export const asItIs = (file: File) => ({
  body: file as unknown as string,
  bodySerializer: (body: unknown) => body as File,
  headers: { "Content-Type": "text/csv" },
});
