package plenzo.api;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** Versions as files, and the keys that sign them. */
public interface Packages {
  record Build(String application, String number) {}

  /**
   * State is built, received or brought in. Problem says why it may not be brought in; empty when
   * it may. Manifest is the SHA-256 of the manifest: the same for the same version anywhere.
   *
   * @param before what must be there before it, wherever it goes; a sentence each
   * @param missing what a received one waits for here; empty when nothing
   * @param already whether the file that was just received was here before; nothing is kept of it
   */
  record PackageView(
      String id,
      String state,
      String application,
      String number,
      String name,
      long size,
      String manifest,
      String signer,
      String signerName,
      String problem,
      List<String> before,
      String missing,
      String source,
      Instant at,
      String by,
      @Nullable Instant handedOutAt,
      @Nullable String handedOutBy,
      boolean already) {}

  /** What a package holds, before anything happens: components counted by kind. */
  record ContentsView(
      String title,
      String notes,
      String author,
      Instant sealedAt,
      @Nullable String parent,
      String digest,
      Map<String, Integer> kinds,
      long bytes,
      List<String> components,
      List<String> removals,
      boolean applicationKnown,
      boolean versionKnown) {}

  /** Path is needed where the application is not registered yet. */
  record BringIn(@Nullable String path) {}

  record KeyView(
      String id,
      String name,
      String key,
      boolean own,
      boolean trusted,
      @Nullable Instant revokedAt,
      String because,
      Instant at,
      String by) {}

  record NewKey(String name) {}

  /** The public key as Base64 text. */
  record Trust(String name, String key) {}

  record Revoke(String id, String reason) {}
}
