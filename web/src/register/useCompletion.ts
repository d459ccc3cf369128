import { useQuery } from "@tanstack/react-query";
import { api, ok, type Schema } from "../api/client";
import { clean, type Sentence } from "./useChoices";

/** What can come at the caret of a filter that is being written, among the sites that the rest of the sentence finds; undefined until the server has answered for exactly this text. */
export const useCompletion = (
  text: string,
  caret: number,
  sentence: Sentence,
  inRule: boolean,
): Schema["Completion"] | undefined =>
  useQuery({
    queryKey: ["completion", text, caret, sentence, inRule],
    queryFn: ({ signal }) =>
      ok(
        api.GET("/api/register/completion", { params: { query: clean({ ...sentence, text, caret, inRule }) }, signal }),
      ),
    retry: false,
  }).data;
