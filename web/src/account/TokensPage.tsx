import { Button, Code, Group, Loader, Select, Table, TextInput, Title } from '@mantine/core'
import { useEffect, useState } from 'react'
import { useParams } from 'react-router'
import { useKpis } from '../shared/kpis.ts'
import { type Role, useMay } from '../shared/may.ts'
import { Notice } from '../shared/Notice.tsx'
import { dayOf, moment } from '../shared/writing.ts'
import { ROLE_NAMES, useTokenActs, useTokens } from './people.ts'
import { Secret } from './Secret.tsx'

/** Tokens for programs, and how one is used. */
export function TokensPage() {
  const { workspace = '' } = useParams()
  const may = useMay()
  const tokens = useTokens(workspace)
  const { make, revoke } = useTokenActs(workspace)
  const [name, setName] = useState('')
  const [role, setRole] = useState<Role>('viewer')
  useEffect(() => {
    document.title = 'Tokens · Fluctus'
  }, [])
  const roles: Role[] = may.add ? ['viewer', 'contributor'] : ['viewer']
  return (
    <>
      <Title order={1} size={25} mb={4}>
        Tokens
      </Title>
      <p className="quiet">
        With a token a program reads analyses and, as contributor, adds values, in this workspace
        only and never more than you may. It is shown once, when it is made.
      </p>
      <form
        aria-label="Make a token"
        onSubmit={(event) => {
          event.preventDefault()
          make.mutate({ name: name.trim(), role }, { onSuccess: () => setName('') })
        }}
      >
        <Group align="end" gap="xs" my="sm">
          <TextInput
            label="What is it for?"
            placeholder="Ramp meter"
            maxLength={80}
            value={name}
            onChange={(event) => setName(event.currentTarget.value)}
          />
          <Select
            label="As"
            w={150}
            data={roles.map((value) => ({ value, label: ROLE_NAMES[value].name }))}
            allowDeselect={false}
            value={role}
            onChange={(chosen) => setRole(chosen as Role)}
          />
          <Button type="submit" loading={make.isPending} disabled={!name.trim()}>
            Make a token
          </Button>
        </Group>
        {make.error && <Notice error={make.error} />}
        {make.data && (
          <div role="status">
            <p>{make.data.token.name}: keep it where only the program reads it.</p>
            <Secret text={make.data.secret} name="the token" />
          </div>
        )}
      </form>
      {tokens.isPending && <Loader role="status" aria-label="Loading" />}
      {tokens.error && <Notice error={tokens.error} retry={tokens.refetch} />}
      {tokens.data?.length === 0 && <p>No tokens yet.</p>}
      {tokens.data && tokens.data.length > 0 && (
        <Table.ScrollContainer minWidth={560}>
          <Table fz={13} verticalSpacing={6} aria-label="Tokens">
            <Table.Thead>
              <Table.Tr>
                <Table.Th>For</Table.Th>
                <Table.Th>Begins with</Table.Th>
                <Table.Th>As</Table.Th>
                <Table.Th>Made by</Table.Th>
                <Table.Th>Last used</Table.Th>
                <Table.Th>Until</Table.Th>
                <Table.Th>
                  <span className="unseen">What can be done</span>
                </Table.Th>
              </Table.Tr>
            </Table.Thead>
            <Table.Tbody>
              {tokens.data.map((row) => (
                <Table.Tr key={row.id}>
                  <Table.Td>{row.name}</Table.Td>
                  <Table.Td>
                    <code>{row.hint}…</code>
                  </Table.Td>
                  <Table.Td>{ROLE_NAMES[row.role].name}</Table.Td>
                  <Table.Td>
                    {row.person}, {moment(row.made_at)}
                  </Table.Td>
                  <Table.Td>{row.used ? moment(row.used) : 'not yet'}</Table.Td>
                  <Table.Td>{row.expires ? dayOf(row.expires) : 'revoked'}</Table.Td>
                  <Table.Td>
                    <Button
                      size="compact-xs"
                      variant="subtle"
                      aria-label={`Revoke ${row.name}`}
                      onClick={() => revoke.mutate(row.id)}
                    >
                      Revoke
                    </Button>
                  </Table.Td>
                </Table.Tr>
              ))}
            </Table.Tbody>
          </Table>
        </Table.ScrollContainer>
      )}
      <Examples workspace={workspace} secret={make.data?.secret ?? null} />
    </>
  )
}

/** What a program sends: as it stands it runs, with a token in the variable FLUCTUS_TOKEN. */
function Examples({ workspace, secret }: { workspace: string; secret: string | null }) {
  const kpi = useKpis(workspace).data?.[0]
  const base = `${window.location.origin}/api/v1/workspaces/${workspace}/kpis/${kpi?.slug ?? 'my-kpi'}`
  const token = secret ?? 'fluctus_…'
  const shell = `export FLUCTUS_TOKEN='${token}'
KPI='${base}'

# What the chart of ${kpi?.name ?? 'a KPI'} says
curl -s -H "Authorization: Bearer $FLUCTUS_TOKEN" "$KPI/analysis?width=300"

# Add the value of the next period, on the revision that was seen
SEEN=$(curl -s -i -H "Authorization: Bearer $FLUCTUS_TOKEN" "$KPI/analysis?width=50" | tr -d '\\r')
REVISION=$(sed -n 's/^etag: //ip' <<< "$SEEN")
PERIOD=$(sed -n 's/.*"next":{"period":"\\([^"]*\\)".*/\\1/p' <<< "$SEEN")
curl -s -X POST -H "Authorization: Bearer $FLUCTUS_TOKEN" -H "If-Match: $REVISION" \\
  -H 'Content-Type: application/json' "$KPI/values" \\
  -d "{\\"edits\\": [{\\"period\\": \\"$PERIOD\\", \\"value\\": 19.2}]}"`
  const python = `import json, os, urllib.request

KPI = "${base}"
TOKEN = {"Authorization": "Bearer " + os.environ["FLUCTUS_TOKEN"]}

# What the chart says
question = urllib.request.Request(KPI + "/analysis?width=300", headers=TOKEN)
with urllib.request.urlopen(question) as answer:
    chart, revision = json.load(answer), answer.headers["ETag"]
print(chart["sentence"]["headline"])

# Add the value of the next period, on the revision that was seen
edit = {"period": chart["next"]["period"], "value": 19.2}
headers = TOKEN | {"If-Match": revision, "Content-Type": "application/json"}
body = json.dumps({"edits": [edit]}).encode()
print(urllib.request.urlopen(urllib.request.Request(KPI + "/values", body, headers)).read())`
  return (
    <section aria-label="Examples">
      <Title order={2} size={17} mt="xl" mb="xs">
        With curl
      </Title>
      <Code block tabIndex={0}>
        {shell}
      </Code>
      <Title order={2} size={17} mt="md" mb="xs">
        With Python
      </Title>
      <Code block tabIndex={0}>
        {python}
      </Code>
      <p className="quiet">
        Everything the API does is described at <a href="/api/v1/schema">/api/v1/schema</a>{' '}
        (OpenAPI).
      </p>
    </section>
  )
}
