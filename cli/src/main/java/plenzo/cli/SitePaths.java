package plenzo.cli;

/** Addresses of what belongs to a site. */
final class SitePaths {
  private SitePaths() {}

  static String sitePath(Group group, String site) {
    String[] at = group.site(site).split("/", 2);
    return "/sites/" + Api.encode(at[0]) + "/" + Api.encode(at[1]);
  }
}
