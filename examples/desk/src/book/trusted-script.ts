/** What makes addresses of scripts that a browser trusts (W3C Trusted Types); not there in every browser. */
interface TrustedTypes {
  createPolicy(name: string, rules: { createScriptURL(address: string): string }): { createScriptURL(address: string): unknown }
}

const { trustedTypes } = globalThis as { trustedTypes?: TrustedTypes }
const policy = trustedTypes?.createPolicy('mellow-scripts', { createScriptURL: ofThisPage })

/** The address of a script of this page, as a browser takes it that wants to know where scripts come from. */
export function trustedScript(address: string): string {
  // Where they are known, what a policy gives stands for the text.
  return (policy?.createScriptURL(address) ?? ofThisPage(address)) as string
}

function ofThisPage(address: string): string {
  const url = new URL(address, location.href)
  if (url.origin !== location.origin) throw new Error(`${url.origin} is not where this page is from.`)
  return url.href
}
