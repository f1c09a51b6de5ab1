/** How a device comes to trust this computer's certificate, step by step, with what one sees. */
export interface System {
  key: string;
  name: string;
  /** What its browsers call it. */
  agent: RegExp;
  steps: string[];
}

export const SYSTEMS: System[] = [
  {
    key: 'ios',
    name: 'iPhone, iPad',
    agent: /iPhone|iPad/,
    steps: [
      'Tap “The certificate” below in Safari and allow the download. iOS says that a profile was downloaded.',
      'Open Settings. “Profile Downloaded” stands near the top: tap it, then Install.',
      'Open Settings, General, About, and at the very bottom Certificate Trust Settings. Switch “Orexis on …” on.',
      'Come back to this page and reload it. The warning is gone.',
    ],
  },
  {
    key: 'android',
    name: 'Android',
    agent: /Android/,
    steps: [
      'Tap “The certificate” below. The file orexis.crt is in your downloads.',
      'Open Settings and search for “CA certificate”. Choose Install anyway: the warning is about certificates of strangers.',
      'Choose the file orexis.crt.',
      'Come back to this page and reload it. The warning is gone.',
    ],
  },
  {
    key: 'windows',
    name: 'Windows',
    agent: /Windows/,
    steps: [
      'Choose “The certificate” below, then open the file orexis.crt.',
      'Choose Install Certificate, Current User, and “Place all certificates in the following store”.',
      'Browse to “Trusted Root Certification Authorities”, then finish. Windows asks whether you are sure and shows the fingerprint.',
      'Close the browser, open it again and come back to this page.',
    ],
  },
  {
    key: 'mac',
    name: 'Mac',
    agent: /Macintosh/,
    steps: [
      'Choose “The certificate” below, then open the file orexis.crt. Keychain Access opens.',
      'Double-click “Orexis on …”, open Trust, and set “When using this certificate” to Always Trust.',
      'Close that window and type your password.',
      'Reload this page. The warning is gone.',
    ],
  },
  {
    key: 'linux',
    name: 'Linux',
    agent: /Linux|X11/,
    steps: [
      'Choose “The certificate” below and keep the file orexis.crt.',
      'In Chromium: Settings, Privacy and security, Security, Manage certificates. Import it under Custom, as trusted for servers.',
      'In Firefox: Settings, Privacy & Security, View Certificates, Authorities, Import. Tick “Trust this CA to identify websites”.',
      'Reload this page. The warning is gone.',
    ],
  },
];

/** The system of a browser, by what it says of itself; the first where it says nothing known. */
export function systemOf(agent: string): System {
  return SYSTEMS.find((system) => system.agent.test(agent)) ?? (SYSTEMS[0] as System);
}
