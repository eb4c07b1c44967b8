/** What a report can be written as, by the ending of its file. */
export const REPORT_FORMS = ['pdf', 'html', 'json', 'csv'] as const;
export type ReportForm = (typeof REPORT_FORMS)[number];
