import { useMe } from "../api/useMe";
import { Notice } from "../ui/Notice";

/** Said wherever a mail is announced, as long as the installation cannot send any. */
export function NoMail() {
  const me = useMe();
  return me?.hasMail === false ? (
    <Notice>
      No mail server is set up, so nobody gets mail. What is written waits until an administrator sets one up
      (ATTIC_SMTP).
    </Notice>
  ) : null;
}
