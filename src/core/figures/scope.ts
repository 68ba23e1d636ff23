/** What figures are about: a launch, as things are now, or as they were at an instant. */
export interface LaunchScope {
  launchId: string;
  asOf?: Date;
}
