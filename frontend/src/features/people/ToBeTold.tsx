/** What somebody has to be told of their account on the first page: a code that another made for it, and a school's end. */
import { useState } from "react";
import { useSession } from "../../api/queries";
import { formatDate, formatMoment } from "../../shared/format";
import { Notice } from "../../shared/states";

const TOLD_FOR_MS = 14 * 24 * 3600 * 1000;

export function ToBeTold() {
  const teacher = useSession().data?.teacher;
  const [now] = useState(() => Date.now());
  const goneOn = teacher?.school?.gone_on;
  const resetAt = teacher?.reset_at;
  return (
    <>
      {resetAt && now - new Date(resetAt).getTime() < TOLD_FOR_MS && (
        <Notice kind="caution">
          {teacher.reset_by} made a code for a new password of your account on {formatMoment(resetAt)}. If you
          did not ask for that, change your password, and tell who runs this server.
        </Notice>
      )}
      {goneOn && (
        <Notice kind="caution">
          {teacher.school?.name} is to be deleted, with all its accounts, on {formatDate(goneOn.slice(0, 10))}
          . Take along the files of the runs that you want to keep (Compare, Record).
        </Notice>
      )}
    </>
  );
}
