package plenzo.cli;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Collections;
import java.util.List;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;

/** Unpacks documents that the service sent, inside one folder and nowhere else. */
final class DocumentFolder {
  private DocumentFolder() {}

  /**
   * What was written.
   *
   * @param leftOut rows that no document carries, a sentence each
   */
  record Unpacked(long documents, List<String> leftOut) {}

  /** Saves and unpacks them. */
  static Unpacked unpack(Api api, String path, Path folder) {
    Path root = folder.toAbsolutePath().normalize();
    Path aside = null;
    try {
      Files.createDirectories(root);
      aside = Files.createTempFile("plenzo-documents", ".zip");
      api.save(path, aside);
      long count = 0;
      try (ZipFile zip = new ZipFile(aside.toFile(), StandardCharsets.UTF_8)) {
        for (ZipEntry e : Collections.list(zip.entries())) {
          write(zip, e, root);
          count++;
        }
        String said = zip.getComment();
        return new Unpacked(count, said == null ? List.of() : said.lines().toList());
      }
    } catch (IOException e) {
      throw Failed.usage("The documents could not be written to " + folder + ": " + e.getMessage());
    } finally {
      if (aside != null) {
        aside.toFile().delete();
      }
    }
  }

  private static void write(ZipFile zip, ZipEntry e, Path root) throws IOException {
    Path file = root.resolve(e.getName()).normalize();
    if (!file.startsWith(root) || file.equals(root)) {
      throw new IOException("the document \"" + e.getName() + "\" leads outside the folder");
    }
    Files.createDirectories(file.getParent());
    if (!file.getParent().toRealPath().startsWith(root.toRealPath())) {
      throw new IOException("the folder of \"" + e.getName() + "\" leads elsewhere");
    }
    Files.deleteIfExists(file);
    try (InputStream in = zip.getInputStream(e)) {
      if ("link".equals(e.getComment())) {
        Files.createSymbolicLink(
            file, Path.of(new String(in.readAllBytes(), StandardCharsets.UTF_8)));
        return;
      }
      Files.copy(in, file);
    }
    if ("executable".equals(e.getComment())) {
      file.toFile().setExecutable(true);
    }
  }
}
