/** The zone of the device that is looked at. */
export const localZone = () => Intl.DateTimeFormat().resolvedOptions().timeZone;
