package plenzo.server.security;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ReadListener;
import jakarta.servlet.ServletException;
import jakarta.servlet.ServletInputStream;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletRequestWrapper;
import jakarta.servlet.http.HttpServletResponse;
import java.io.BufferedReader;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.SocketTimeoutException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.springframework.core.annotation.Order;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;

/** Bodies are JSON, bounded before and while they are read, and come at a minimum pace. */
@Component
@Order(0)
class Bodies extends OncePerRequestFilter {
  static final int MAX_BODY = 1 << 20;
  static final Set<String> CHANGING = Set.of("POST", "PUT", "PATCH", "DELETE");

  private final Readers readers;
  private final Refusals refusals;

  Bodies(Readers readers, Refusals refusals) {
    this.readers = readers;
    this.refusals = refusals;
  }

  @Override
  protected boolean shouldNotFilter(HttpServletRequest request) {
    return !CHANGING.contains(request.getMethod());
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    boolean file = Asking.isFile(request);
    if (!file
        && !request.getMethod().equals("DELETE")
        && !String.valueOf(request.getContentType()).startsWith("application/json")) {
      refuse(
          request,
          response,
          HttpStatus.UNSUPPORTED_MEDIA_TYPE,
          "NOT_JSON",
          "Send application/json.");
      return;
    }
    if (!file && request.getContentLengthLong() > MAX_BODY) {
      tooLarge(request, response);
      return;
    }
    Optional<Readers.Place> place = readers.enter(request);
    if (place.isEmpty()) {
      response.setHeader("Retry-After", "5");
      refuse(
          request,
          response,
          HttpStatus.TOO_MANY_REQUESTS,
          "TOO_MANY",
          "Too many bodies of yours are being read at once.");
      return;
    }
    PacedStream in = new PacedStream(request.getInputStream());
    byte[] body;
    try (Readers.Place held = place.get()) {
      if (file) {
        chain.doFilter(new OtherBody(request, in), response); // bounded while it is received
        return;
      }
      body = in.readNBytes(MAX_BODY + 1);
    } catch (IOException e) {
      if (file || !slow(e)) {
        throw e;
      }
      Refusals.close(request, response);
      refuse(
          request,
          response,
          HttpStatus.REQUEST_TIMEOUT,
          "TOO_SLOW",
          "The body comes too slowly: after "
              + PacedStream.GRACE_MILLIS / 1000
              + " seconds at least "
              + PacedStream.PACE
              + " bytes a second are asked for.");
      return;
    }
    if (body.length > MAX_BODY) {
      tooLarge(request, response);
      return;
    }
    chain.doFilter(new WholeBody(request, body), response);
  }

  private static boolean slow(IOException e) {
    return e instanceof TooSlow
        || e instanceof SocketTimeoutException
        || e.getCause() instanceof SocketTimeoutException;
  }

  private void tooLarge(HttpServletRequest request, HttpServletResponse response)
      throws IOException {
    refuse(
        request,
        response,
        HttpStatus.CONTENT_TOO_LARGE,
        "TOO_LARGE",
        "The body has more than " + MAX_BODY + " bytes.");
  }

  private void refuse(
      HttpServletRequest request,
      HttpServletResponse response,
      HttpStatus status,
      String code,
      String detail)
      throws IOException {
    refusals.refuse(request, response, status, code, detail, List.of());
  }

  /** A body that is read otherwise. */
  private static class OtherBody extends HttpServletRequestWrapper {
    private final ServletInputStream in;

    OtherBody(HttpServletRequest request, ServletInputStream in) {
      super(request);
      this.in = in;
    }

    @Override
    public ServletInputStream getInputStream() {
      return in;
    }

    @Override
    public BufferedReader getReader() {
      return new BufferedReader(new InputStreamReader(getInputStream(), StandardCharsets.UTF_8));
    }
  }

  /** A body that was read whole, so that it can be digested and read again. */
  static final class WholeBody extends OtherBody {
    private final byte[] body;

    WholeBody(HttpServletRequest request, byte[] body) {
      super(request, new Bytes(body));
      this.body = body;
    }

    byte[] bytes() {
      return body;
    }

    @Override
    public ServletInputStream getInputStream() {
      return new Bytes(body);
    }
  }

  /** Bytes that are there. */
  private static final class Bytes extends ServletInputStream {
    private final ByteArrayInputStream in;

    Bytes(byte[] body) {
      in = new ByteArrayInputStream(body);
    }

    @Override
    public int read() {
      return in.read();
    }

    @Override
    public int read(byte[] to, int from, int length) {
      return in.read(to, from, length);
    }

    @Override
    public boolean isFinished() {
      return in.available() == 0;
    }

    @Override
    public boolean isReady() {
      return true;
    }

    @Override
    public void setReadListener(ReadListener listener) {
      throw new IllegalStateException("The body is there already");
    }
  }
}
