import type { Schema } from "../api/client";

type Limit = Schema["Limit"];

export const plain = (word: string) => word.replaceAll("-", " ");

/** "staff; partners with an account" */
export const inWords = ({ inside, outside, visitorSignIn }: Limit) =>
  `${plain(inside)}; ${plain(outside)}${outside === "no-one" || visitorSignIn === "none" ? "" : ` with ${visitorSignIn === "account" ? "an account" : "a one-time code"}`}`;
