export const partWords: Record<string, string> = {
  record: 'Record, by cleared sales',
  refunds: 'Refunds, by their shrunk rate',
  tenure: 'Tenure, full at three years',
  profile: 'Profile: site, introduction, a note of 40 words',
};
