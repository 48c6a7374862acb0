# One image for web and worker. The pages are built first; nothing of Node is left in what runs.
FROM node:22-slim AS pages
WORKDIR /sulvet
COPY frontend frontend
COPY sulvet/core/measures/data/units.json sulvet/core/measures/data/units.json
RUN cd frontend && npm ci --no-audit --no-fund && npm run build

FROM python:3.11-slim
RUN useradd --create-home sulvet && mkdir /data && chown sulvet /data
WORKDIR /sulvet
COPY requirements.txt requirements-district.txt ./
RUN pip install --no-cache-dir --no-deps -r requirements.txt -r requirements-district.txt
COPY . .
COPY --from=pages /sulvet/frontend/dist frontend/dist
USER sulvet
