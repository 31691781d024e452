package plenzo.core.source;

/**
 * Where an application's component documents are kept.
 *
 * @param address https address, or path of a repository below a configured folder
 * @param folder below which the documents lie, empty for the whole repository
 * @param branch that is meant when no revision is named
 * @param account sign-in name for https, empty for none; its secret is kept apart
 */
public record Repository(String address, String folder, String branch, String account) {
  public Repository {
    if (!address.startsWith("https://") && !address.startsWith("/")) {
      throw new IllegalArgumentException(
          "A repository is an https address or an absolute path; got \"" + address + "\"");
    }
    if (address.contains("@") || address.length() > 400) {
      throw new IllegalArgumentException(
          "An address carries no account and no secret; give the account by itself");
    }
    if (!folder.isEmpty()) {
      plenzo.core.item.FilePath.require(folder);
    }
    if (branch.isBlank() || branch.length() > 200) {
      throw new IllegalArgumentException("Name a branch");
    }
  }

  public boolean local() {
    return address.startsWith("/");
  }
}
