package plenzo.core.keeping;

import java.io.InputStream;
import java.io.OutputStream;
import java.util.List;

/**
 * Plenzo's own files: sealed content, comparisons, backups, logs. Names are paths such as {@code
 * content/ab/…}; a file is there wholly or not at all. Failures are {@link
 * java.io.UncheckedIOException}.
 */
public interface Files {
  /**
   * Writes a file aside, flushes it to the disk and puts it in its place; replaces an older one.
   */
  void write(String name, Writing writing);

  /** A work file that grows while it is written; flushed to the disk when closed. */
  OutputStream create(String name);

  /** Puts a finished file in its place, replacing an older one. */
  void move(String from, String to);

  InputStream open(String name, long offset);

  boolean exists(String name);

  long size(String name);

  /** Adds to the end, flushed to the operating system; for logs. */
  void append(String name, String text);

  /** Removes the file, or everything below the folder; nothing when it is not there. */
  void remove(String name);

  List<String> list(String folder);

  /** Bytes that may still be written. */
  long room();

  /** What is written. */
  interface Writing {
    void to(OutputStream out) throws java.io.IOException;
  }
}
