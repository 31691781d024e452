package plenzo.core.source;

import org.jspecify.annotations.Nullable;
import plenzo.core.version.SemVer;
import plenzo.core.words.Codes;

/**
 * Where an application's component documents are kept.
 *
 * @param address https address, or path of a repository below a configured folder
 * @param folder below which the documents lie, empty for the whole repository
 * @param branch that is meant when no revision is named; empty until the repository was asked for
 *     its own
 * @param account sign-in name for https, empty for none; its secret is kept apart
 * @param follow what a new tag becomes by itself
 * @param tagPrefix what stands before the number in tags that are followed
 * @param signedIn header in which its server signs calls; null for {@link #SIGNATURE}
 */
public record Repository(
    String address,
    String folder,
    String branch,
    String account,
    Follow follow,
    String tagPrefix,
    @Nullable String signedIn) {
  /** Where a call is signed unless the sender signs elsewhere. */
  public static final String SIGNATURE = "Plenzo-Signature";

  public Repository(
      String address,
      String folder,
      String branch,
      String account,
      Follow follow,
      String tagPrefix) {
    this(address, folder, branch, account, follow, tagPrefix, null);
  }

  /** What a new tag becomes. */
  public enum Follow {
    /** Nothing: people draft from it. */
    NOTHING,
    /** A draft that holds everything that is new or changed in its commit. */
    DRAFT,
    /** A version, unless its draft's checks find a blocker. */
    SEAL;

    public String code() {
      return name().toLowerCase(java.util.Locale.ROOT);
    }

    public static Follow of(String code) {
      return Codes.find("what a new tag becomes", values(), Follow::code, code);
    }
  }

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
    if (branch.length() > 200) {
      throw new IllegalArgumentException("A branch has a name of up to 200 characters");
    }
    if (signedIn != null && !signedIn.matches("[A-Za-z0-9-]{1,80}")) {
      throw new IllegalArgumentException(
          "The name of a header is letters, digits and hyphens; got \"" + signedIn + "\"");
    }
    if (!tagPrefix.matches("[A-Za-z0-9._/-]{0,40}")) {
      throw new IllegalArgumentException(
          "What stands before the number in a tag is letters, digits, dots, hyphens and slashes");
    }
  }

  public Repository on(String other) {
    return new Repository(address, folder, other, account, follow, tagPrefix, signedIn);
  }

  /** The number that a followed tag gives; null for other tags. */
  public @Nullable SemVer number(String tag) {
    if (!tag.startsWith(tagPrefix)) {
      return null;
    }
    try {
      return new SemVer(tag.substring(tagPrefix.length()));
    } catch (IllegalArgumentException e) {
      return null;
    }
  }

  /** The header in which calls are signed. */
  public String signature() {
    return signedIn == null ? SIGNATURE : signedIn;
  }

  public boolean local() {
    return address.startsWith("/");
  }
}
