import { Loader, Title } from '@mantine/core'
import { useEffect } from 'react'
import { Notice } from '../shared/Notice.tsx'
import { moment } from '../shared/writing.ts'
import { useLetters } from './own.ts'

/** The mailbox that ships with the demo: letters that would have been sent. */
export function LettersPage() {
  const letters = useLetters()
  useEffect(() => {
    document.title = 'Mailbox · Fluctus'
  }, [])
  return (
    <>
      <Title order={1} size={25} mb={4}>
        Mailbox of the demo
      </Title>
      <p className="quiet">
        Where mail would go out, the demo keeps it here: digests and what is told at once,
        invitations, and letters for who has forgotten their password. Anybody who looks around the
        demo can read them.
      </p>
      {letters.isPending && <Loader role="status" aria-label="Loading" />}
      {letters.error && <Notice error={letters.error} retry={letters.refetch} />}
      {letters.data?.length === 0 && <p>No letters yet. Invite somebody on the page People.</p>}
      {letters.data?.map((letter) => (
        <article className="card" key={letter.id} style={{ padding: '12px 18px', marginTop: 12 }}>
          <b>{letter.subject}</b>
          <div className="quiet">
            to {letter.to}, {moment(letter.at)}
          </div>
          <p style={{ whiteSpace: 'pre-wrap', overflowWrap: 'anywhere', margin: '8px 0 0' }}>
            {letter.text.split(/(https?:\/\/\S+)/).map((part) =>
              part.startsWith('http') ? (
                <a key={part} href={part} target="_blank" rel="noreferrer">
                  {part}
                </a>
              ) : (
                part
              ),
            )}
          </p>
        </article>
      ))}
    </>
  )
}
