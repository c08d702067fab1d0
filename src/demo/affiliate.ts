export interface DemoAffiliate {
  name: string;
  email: string;
  country: string;
  site: string;
  channels: string;
  note: string;
  joined: string;
  timing: 'at-sale' | 'after-hold';
  weight: number;
  product: string;
  bad?: boolean;
  details?: boolean;
  /** who brought it in */ by?: string;
  address?: string;
}
