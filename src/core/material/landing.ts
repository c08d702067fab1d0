/** Why an address cannot be one that links lead to; null where it can. @param hosts those that the merchant listed, with their port where they have one */
export function landingFault(address: string, hosts: readonly string[]): string | null {
  let url: URL;
  try {
    url = new URL(address);
  } catch {
    return 'it is no address of a page';
  }
  if (url.protocol !== 'https:' && url.protocol !== 'http:')
    return `it begins with ${url.protocol.slice(0, 20)} and has to begin with https:`;
  if (url.username !== '' || url.password !== '') return 'it carries a name or a password';
  return hosts.includes(url.host)
    ? null
    : `${url.host.slice(0, 100)} is not among the hosts that links may lead to: ${listOf(hosts)}`;
}

const listOf = (hosts: readonly string[]) =>
  hosts.length ? hosts.slice(0, 5).join(', ') : 'none is listed in the settings yet';
