package plenzo.packages;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.trust.Parcel;
import plenzo.core.version.Need;
import plenzo.core.version.Version;

/**
 * What a package file that is intact says of itself, as plain texts: for whoever verifies it
 * without a service.
 *
 * @param before what must be there before it, wherever it goes; a sentence each
 * @param kinds how many components of each kind
 * @param bytes of all contents
 * @param signer id of the key that signed it; whether it is trusted is another question
 */
public record VerifiedFacts(
    String version,
    String title,
    String author,
    String sealedAt,
    @Nullable String parent,
    List<String> before,
    String digest,
    String manifestDigest,
    Map<String, Integer> kinds,
    long bytes,
    String signer) {
  public VerifiedFacts {
    kinds = new TreeMap<>(kinds);
    before = List.copyOf(before);
  }

  /**
   * Reads every byte.
   *
   * @throws PackageRefused when anything is not as its manifest says; the message is one sentence
   */
  public static VerifiedFacts of(Path file) {
    PackageFile.Checked checked = PackageFile.verify(file, n -> {});
    Version v = checked.manifest().version();
    return new VerifiedFacts(
        v.ref(),
        v.title(),
        v.author(),
        v.sealedAt().toString(),
        v.parent() == null ? null : v.parent().text(),
        Parcel.before(
            v.application(),
            v.parent() == null ? null : v.parent().text(),
            v.needs().stream().map(Need::toString).toList()),
        v.digest().hex(),
        checked.manifestDigest().hex(),
        v.head().kinds(),
        checked.manifest().bytes(),
        checked.signer());
  }
}
