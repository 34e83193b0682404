import { queryOptions, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, unwrap } from "../../api/client";
import { Empty } from "../../ui/Empty";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { formatMoment } from "../../values/format";

const mailsQuery = queryOptions({
  queryKey: ["mails"],
  queryFn: ({ signal }) => unwrap(api.GET("/api/mails", { signal })),
  staleTime: 0,
  refetchInterval: 5_000,
});

/** The mails that were written lately: to be read here as long as no mail server is named. */
export function MailsPage() {
  const mails = useQuery(mailsQuery);
  return (
    <div className="grid max-w-3xl gap-4">
      <title>Mails · Plain Porch</title>
      <p>
        <Link to="/back/sources" className="link">
          ← Sources
        </Link>
      </p>
      <h1 className="text-2xl font-semibold">Mails</h1>
      {mails.isPending && <Loading what="the mails" />}
      {mails.isError && <Failure error={mails.error} onRetry={() => void mails.refetch()} />}
      {mails.data && (
        <>
          <p className="max-w-prose text-faint">
            {mails.data.areSent
              ? "They are handed over to the mail server. What they say is read by whoever they go to."
              : "No mail server is named, so nothing leaves this computer: read the mails here, and open their links. PORCH_SMTP_HOST names one."}
          </p>
          {mails.data.mails.length === 0 && <Empty title="Nothing was written yet." />}
          <ul className="border-t border-line">
            {mails.data.mails.map((mail) => (
              <li key={mail.id} className="border-b border-line py-2.5">
                <details>
                  <summary className="cursor-pointer">
                    <span className="font-medium">{mail.subject}</span>{" "}
                    <span className="text-faint">
                      to {mail.to}, {formatMoment(mail.at)}
                      {mails.data.areSent && (mail.sentAt === null ? " · not handed over yet" : " · handed over")}
                    </span>
                  </summary>
                  {mail.failure !== null && <p className="text-danger">{mail.failure}</p>}
                  <p className="mt-2 bg-sheet p-3 whitespace-pre-wrap wrap-anywhere">{withLinks(mail.text)}</p>
                </details>
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

function withLinks(text: string) {
  return text.split(/(https?:\/\/\S+)/).map((part, place) =>
    place % 2 === 1 ? (
      // Under the address that this page is looked at by.
      <a key={place} href={part.replace(/^https?:\/\/[^/]+/, "")} className="link">
        {part}
      </a>
    ) : (
      part
    ),
  );
}
