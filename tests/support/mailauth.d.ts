/** The part of `mailauth` that the tests use; the package carries no types. */
declare module "mailauth" {
  interface DkimResult {
    status: { result: string };
    signingDomain?: string;
  }
  export function authenticate(
    raw: string | Buffer,
    options: {
      resolver: (name: string, type: string) => Promise<string[][]>;
      sender: string;
      ip: string;
      trustReceived: boolean;
      disableArc: boolean;
      disableDmarc: boolean;
      disableBimi: boolean;
    },
  ): Promise<{ dkim: { results: DkimResult[] } }>;
}
